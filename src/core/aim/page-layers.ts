import { importLayer, LayerOrder } from '../cascade'
import { Sheet, StatementMemo, textOf } from '../css'
import type { Project } from '../project'

// Most sheets have no layers, and then there is nothing to put in order.
const NAMES_LAYERS = new StatementMemo(
  (rules) =>
    [...rules].some(
      (s) => s.rule.kind === 'at' && (s.rule.name === 'layer' || (s.rule.name === 'import' && /layer/i.test(textOf(s, s.rule.prelude)))),
    ) || null,
  () => null,
  () => {},
)
const NONE = new Sheet('')

const layerOrders = new WeakMap<Project, { readonly of: string; readonly order: LayerOrder }>()

/** The order of the layers of a page's sheets. Walking every rule is too slow for each pick; it changes only with the rules themselves. */
export function layersOf(project: Project, sheets: readonly string[]): LayerOrder {
  const of = `${project.ruleRevision} ${sheets.join('\n')}`
  const known = layerOrders.get(project)
  if (known?.of === of) return known.order
  const order = new LayerOrder(
    sheets.some((key) => NAMES_LAYERS.of(project.sheet(key)?.sheet ?? NONE).list.length > 0)
      ? sheets.flatMap((key) => {
          const ref = project.sheet(key)
          return ref ? [{ sheet: ref.sheet, layer: importedLayer(project, sheets, key) }] : []
        })
      : [],
  )
  layerOrders.set(project, { of, order })
  return order
}

// The layer of an imported sheet is named where it is imported.
function importedLayer(project: Project, sheets: readonly string[], key: string): string | null {
  for (const other of sheets) {
    const ref = project.sheet(other)
    if (!ref || other === key) continue
    for (const statement of ref.sheet.statements) {
      for (const item of statement.items) {
        if (item.kind !== 'at' || item.name !== 'import') continue
        const url = /^(?:url\(\s*)?["']?([^"')\s]+)/i.exec(statement.text.slice(item.prelude.from, item.prelude.to))?.[1]
        if (url && new URL(url, `http://x/${other.startsWith('#') ? '' : other}`).pathname === `/${key}`)
          return importLayer(ref.sheet, item)
      }
    }
  }
  return null
}
