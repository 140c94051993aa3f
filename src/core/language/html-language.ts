import { measureHouseStyle, Sheet, type HouseStyle } from '../css'
import { HtmlDocument, publishHtml, type HtmlElement } from '../html'
import type { Span, Splices } from '../text'
import { HtmlTree } from './html-tree'
import type { Applied, AppliedForNow, SheetPart, SourceAttribute, SourceFile, SourceLanguage } from './language'

interface EmbeddedPart extends SheetPart {
  readonly element: number
  readonly style: HouseStyle
  base: number
}

class HtmlFile implements SourceFile {
  readonly tree: HtmlTree
  private readonly doc: HtmlDocument
  /** By the element; kept, with the ids of their rules, while their text is unchanged or edited inside. */
  private parts = new Map<number, EmbeddedPart>()

  constructor(text: string) {
    this.doc = new HtmlDocument(text)
    this.tree = new HtmlTree(this.doc)
    this.readSheets(null)
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

  sheets(): readonly SheetPart[] {
    return [...this.parts.values()]
  }

  published(fileKey: number, script: string): string {
    return publishHtml(this.doc, fileKey, script)
  }

  apply(splices: Splices): Applied {
    return this.applyAndTell(splices, () => this.doc.apply(splices))
  }

  applyForNow(splices: Splices): AppliedForNow {
    const parts = [...this.parts.values()].map((part) => ({ part, base: part.base, takeBack: part.sheet.mark() }))
    let takeDocBack = () => {}
    const applied = this.applyAndTell(splices, () => {
      const { done, takeBack } = this.doc.applyForNow(splices)
      takeDocBack = takeBack
      return done
    })
    return {
      applied,
      takeBack: () => {
        takeDocBack()
        for (const { part, base, takeBack } of parts) {
          takeBack()
          part.base = base
        }
        this.parts = new Map(parts.map(({ part }) => [part.element, part]))
      },
    }
  }

  private applyAndTell(splices: Splices, apply: () => ReturnType<HtmlDocument['apply']>): Applied {
    const { doc } = this
    const inStyle = this.styleAround(splices)
    const old = doc.elements
    const done = apply()
    const sheets = this.readSheets(inStyle && { element: inStyle.element, splices })
    const element = done && doc.element(done.id)
    if (done?.kind === 'tag') return { sheets, attributes: changesOf(element!, done.attrs), texts: [], structure: false }
    if (done && !inStyle && element!.tag !== 'script')
      return {
        sheets,
        attributes: [],
        texts: [{ element: done.id, index: done.index, before: done.before, after: done.after }],
        structure: false,
      }
    if (done) return { sheets, attributes: [], texts: [], structure: !inStyle }
    // The document was read again: the elements of before are as they were.
    const before = new Map(old.filter((e) => e.startTag).map((e) => [e.id, e]))
    const inTag = splices.every((x) => old.some((e) => e.startTag && x.from > e.startTag.from && x.to < e.startTag.to))
    const attributes: Applied['attributes'][number][] = []
    const written = doc.elements.filter((e) => e.startTag)
    let isSame = written.length === before.size
    for (const e of written) {
      const was = before.get(e.id)
      if (!was || was.tag !== e.tag) {
        isSame = false
        break
      }
      attributes.push(...changesOf(e, was.attributes))
    }
    return { sheets, attributes, texts: [], structure: !isSame || !(inTag || inStyle) }
  }

  private styleAround(splices: Splices) {
    return this.doc.embeddedSheets().find((s) => splices.every((x) => x.from >= s.content.from && x.to <= s.content.to)) ?? null
  }

  /** Reads the `<style>` elements; gives those that hold another text than before. */
  private readSheets(edited: { readonly element: number; readonly splices: Splices } | null): number[] {
    const changed: number[] = []
    const now = new Map<number, EmbeddedPart>()
    for (const { element, content } of this.doc.embeddedSheets()) {
      const text = this.doc.text.slice(content.from, content.to)
      const known = this.parts.get(element)
      if (known && edited?.element === element) {
        known.sheet.apply(edited.splices.map((s) => ({ ...s, from: s.from - content.from, to: s.to - content.from })))
        changed.push(element)
      }
      if (known && known.sheet.text === text) {
        known.base = content.from
        now.set(element, known)
        continue
      }
      const sheet = new Sheet(text)
      now.set(element, { element, sheet, style: measureHouseStyle(sheet), base: content.from })
      if (known && !changed.includes(element)) changed.push(element)
    }
    this.parts = now
    return changed
  }
}

function changesOf(element: HtmlElement, before: readonly SourceAttribute[]): Applied['attributes'][number][] {
  const after = element.attributes
  const valueIn = (list: readonly SourceAttribute[], name: string) => list.find((a) => a.name === name)?.value ?? null
  return [...new Set([...before, ...after].map((a) => a.name))].flatMap((name) =>
    valueIn(before, name) === valueIn(after, name) ? [] : [{ element: element.id, name, value: valueIn(after, name) }],
  )
}

/** HTML as the standard's parser reads it (HTML §13.2). */
export const HTML: SourceLanguage = {
  mayHoldSheets: (text) => /<style/i.test(text),
  read: (text) => new HtmlFile(text),
}
