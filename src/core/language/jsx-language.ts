import { JsxDocument, ScriptFile } from '../jsx'
import type { Span, Splices } from '../text'
import { JsxTree } from './jsx-tree'
import type { Applied, AppliedForNow, SourceFile, SourceLanguage, SourceText } from './language'

// What it renders to is known when the page has taken it in.
const APPLIED: Applied = { sheets: [], attributes: [], texts: [], structure: true }

class JsxFile implements SourceFile {
  readonly tree: JsxTree
  private readonly doc: JsxDocument

  constructor(text: string, path: string) {
    this.doc = new JsxDocument(text, path)
    this.tree = new JsxTree(this.doc)
  }

  get text(): string {
    return this.doc.text
  }

  slice({ from, to }: Span): string {
    return this.doc.text.slice(from, to)
  }

  lineAt(offset: number): number {
    return this.doc.lineAt(offset)
  }

  sheets(): [] {
    return []
  }

  apply(splices: Splices): Applied {
    this.doc.apply(splices)
    return APPLIED
  }

  applyForNow(splices: Splices): AppliedForNow {
    const takeBack = this.doc.mark()
    return { applied: this.apply(splices), takeBack }
  }

  published(): null {
    return null
  }

  useImports(find: SourceText['imported']): void {
    this.doc.useImports((module) => ScriptFile.of(find(module)))
  }
}

/** Scripts with JSX (the JSX specification, and TypeScript's). */
export const JSX: SourceLanguage = { mayHoldSheets: () => false, read: (text, path) => new JsxFile(text, path) }
