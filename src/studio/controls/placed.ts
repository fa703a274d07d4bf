/** Where something that opens stands: under what it belongs to, or above it where there is more room; never off the screen. */
export function placedBy(field: DOMRect, { widest, highest }: { widest: number; highest: number }): Record<string, string> {
  const { left, top, bottom, width } = field
  const room = { below: innerHeight - bottom, above: top }
  const below = room.below > 220 || room.below > room.above
  return {
    left: `${Math.max(8, Math.min(left, innerWidth - 8 - Math.max(width, widest)))}px`,
    minWidth: `${width}px`,
    maxWidth: `${widest}px`,
    maxHeight: `${Math.min(highest, (below ? room.below : room.above) - 16)}px`,
    ...(below ? { top: `${bottom + 2}px`, bottom: 'auto' } : { top: 'auto', bottom: `${innerHeight - top + 2}px` }),
  }
}
