import type { JsxDocument } from './document'

/** How a file writes what is added to it. */
export interface JsxStyle {
  /** Around the text of an attribute. */
  readonly attributeQuote: '"' | "'"
  /** Around a string of the script. */
  readonly stringQuote: '"' | "'"
}

const styles = new WeakMap<JsxDocument, { readonly text: string; readonly style: JsxStyle }>()

/** What a file shows of its habits; where it shows none, attributes are in double quotes and strings in single ones. */
export function jsxStyle(doc: JsxDocument): JsxStyle {
  const known = styles.get(doc)
  if (known?.text === doc.text) return known.style
  let [double, single] = [0, 0]
  for (const e of doc.elements)
    for (const a of e.node.openingElement.attributes)
      if (a.type === 'JSXAttribute' && a.value?.type === 'StringLiteral')
        if (doc.text[a.value.start!] === '"') double++
        else single++
  const count = (quote: string) => doc.text.match(new RegExp(`(?:[(,:=?[] ?|\\b(?:from|import|return) )${quote}`, 'g'))?.length ?? 0
  // An attribute's own text is no string of the script.
  const [doubles, singles] = [count('"') - double, count("'") - single]
  const style: JsxStyle = { attributeQuote: single > double ? "'" : '"', stringQuote: doubles > singles ? '"' : "'" }
  styles.set(doc, { text: doc.text, style })
  return style
}
