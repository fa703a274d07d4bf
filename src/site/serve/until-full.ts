/**
 * Room for what can be made again, kept by many holders until all of it together is too much: then all let go of theirs,
 * those too that nobody asks any more.
 */
export class UntilFull {
  private held = 0
  private readonly holders = new Set<() => void>()

  constructor(private readonly most: number) {}

  /** @param letGo of one holder, the same each time */
  add(size: number, letGo: () => void): void {
    this.held += size
    this.holders.add(letGo)
    if (this.held <= this.most) return
    const all = [...this.holders]
    this.held = 0
    this.holders.clear()
    for (const go of all) go()
  }
}
