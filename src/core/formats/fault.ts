/** Something in a file from outside that cannot be taken, with its place: lines and columns count from one. */
export class FileFault extends Error {
  constructor(
    message: string,
    readonly line: number | null = null,
    readonly column: number | null = null,
  ) {
    super(line === null ? message : `Line ${line}${column === null ? '' : `, column ${column}`}: ${message}`)
  }
}
