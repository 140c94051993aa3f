/** Start offsets of the lines of a text (UTF-16 units). A line ends at LF, CR LF or a lone CR. */
export class LineIndex {
  private readonly starts: number[] = [0]

  constructor(private readonly text: string) {
    for (let i = 0; i < text.length; i++) {
      const c = text.charCodeAt(i)
      if (c === 10 || (c === 13 && text.charCodeAt(i + 1) !== 10)) this.starts.push(i + 1)
    }
  }

  get count(): number {
    return this.starts.length
  }

  /** The 1-based line that `offset` stands in. */
  lineAt(offset: number): number {
    let low = 0
    let high = this.starts.length
    while (high - low > 1) {
      const mid = (low + high) >> 1
      if (this.starts[mid] <= offset) low = mid
      else high = mid
    }
    return low + 1
  }

  /** 0-based column in UTF-16 units. */
  columnAt(offset: number): number {
    return offset - this.starts[this.lineAt(offset) - 1]
  }

  /** Offset of the start of the 1-based `line`. @throws RangeError when there is no such line. */
  startOf(line: number): number {
    const start = this.starts[line - 1]
    if (start === undefined) throw new RangeError(`Line ${line} of ${this.starts.length}`)
    return start
  }

  /** The text of the 1-based `line`, without its line end. */
  lineText(line: number): string {
    const end = this.starts[line] ?? this.text.length
    return this.text.slice(this.startOf(line), end).replace(/\r?\n$|\r$/, '')
  }
}

/** The line end that a file uses most; LF where it has none. */
export function lineEndOf(text: string): '\n' | '\r\n' {
  let crlf = 0
  let lf = 0
  for (let i = text.indexOf('\n'); i !== -1 && crlf + lf < 2000; i = text.indexOf('\n', i + 1)) {
    if (text.charCodeAt(i - 1) === 13) crlf++
    else lf++
  }
  return crlf > lf ? '\r\n' : '\n'
}
