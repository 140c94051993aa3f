import { Bindings } from './bindings'
import type { ValueFile } from './meaning'
import { nodesIn, parseJsx } from './parse'

/** The text of a file as it is now, and of those that it imports. */
interface LiveText {
  readonly path: string
  readonly text: string
  imported(module: string): LiveText | null
}

/** A script that others take values from, read again when its text is another. */
export class ScriptFile implements ValueFile {
  private static readonly known = new WeakMap<LiveText, ScriptFile>()

  /** The same for the same file. */
  static of(source: LiveText | null): ScriptFile | null {
    if (!source) return null
    const known = ScriptFile.known.get(source) ?? new ScriptFile(source)
    ScriptFile.known.set(source, known)
    return known
  }

  private read: { readonly text: string; readonly bindings: Bindings } | null = null

  private constructor(private readonly source: LiveText) {}

  get path(): string {
    return this.source.path
  }

  get text(): string {
    return this.source.text
  }

  /** Its names; none where it cannot be read. */
  get bindings(): Bindings {
    const { text } = this
    if (this.read?.text !== text) this.read = { text, bindings: bindingsOf(text, this.path) }
    return this.read.bindings
  }

  imported(module: string): ScriptFile | null {
    return ScriptFile.of(this.source.imported(module))
  }
}

function bindingsOf(text: string, path: string): Bindings {
  const names = new Bindings()
  try {
    for (const node of nodesIn(parseJsx(text, path))) names.note(node)
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    return new Bindings()
  }
  return names
}
