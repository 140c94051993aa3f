/** A text as editors have it, with one kind of line end, and its offsets in the text as the file has it (UTF-16 units). */
export class LineFeeds {
  readonly text: string
  /** Offsets in `text` of the line ends that are two characters in the file. */
  private readonly wide: number[] = []

  constructor(file: string) {
    for (let at = file.indexOf('\r\n'); at >= 0; at = file.indexOf('\r\n', at + 2)) this.wide.push(at - this.wide.length)
    this.text = file.replace(/\r\n?/g, '\n')
  }

  /** The offset in the file of one in `text`. */
  toFile(offset: number): number {
    let low = 0
    let high = this.wide.length
    while (low < high) {
      const mid = (low + high) >> 1
      if (this.wide[mid] < offset) low = mid + 1
      else high = mid
    }
    return offset + low
  }

  /** The offset in `text` of one in the file. */
  fromFile(offset: number): number {
    let n = 0
    while (n < this.wide.length && this.wide[n] + n < offset) n++
    return offset - n
  }
}
