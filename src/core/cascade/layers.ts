import { isRule, splitTop, textOf, type Rule, type Sheet } from '../css'

interface LayerNode {
  readonly children: Map<string, LayerNode>
  order: number
}

const newLayer = (): LayerNode => ({ children: new Map(), order: 0 })

/** The order of cascade layers over the sheets of a page (CSS Cascade 5 §6.4). */
export class LayerOrder {
  private readonly root = newLayer()
  private anonymous = 0
  private readonly ofRule = new Map<Rule, LayerNode>()

  /** `sheets` in the page's order. An imported sheet comes before the one that imports it, with its layer's name. */
  constructor(sheets: readonly { readonly sheet: Sheet; readonly layer?: string | null }[]) {
    for (const { sheet, layer } of sheets) {
      const base = layer === undefined || layer === null ? this.root : this.enter(this.root, layer)
      for (const statement of sheet.statements) {
        const todo: { rule: Rule; inside: LayerNode }[] = []
        for (const item of statement.items) if (isRule(item)) todo.push({ rule: item, inside: base })
        for (let i = 0; i < todo.length; i++) {
          const { rule, inside } = todo[i]
          let layerInside = inside
          if (rule.kind === 'at' && rule.name === 'layer') {
            const prelude = statement.text.slice(rule.prelude.from, rule.prelude.to)
            if (!rule.block)
              for (const part of splitTop(prelude, 0, prelude.length, ',')) this.enter(inside, prelude.slice(part.from, part.to))
            else layerInside = this.enter(inside, prelude)
          }
          this.ofRule.set(rule, layerInside)
          const children = rule.children.filter(isRule).map((child) => ({ rule: child, inside: layerInside }))
          // Depth first, so that layers are met in source order.
          todo.splice(i + 1, 0, ...children)
        }
      }
    }
    this.number(this.root, { next: 0 })
  }

  private enter(from: LayerNode, name: string): LayerNode {
    const names = name.trim() === '' ? [`\0${this.anonymous++}`] : name.trim().split('.')
    let node = from
    for (const n of names) {
      if (!node.children.has(n)) node.children.set(n, newLayer())
      node = node.children.get(n)!
    }
    return node
  }

  // A layer's own rules come after those of the layers in it.
  private number(node: LayerNode, counter: { next: number }): void {
    for (const child of node.children.values()) this.number(child, counter)
    node.order = counter.next++
  }

  /** Higher wins among normal declarations; rules outside any layer have the highest. */
  orderOf(rule: Rule): number {
    return (this.ofRule.get(rule) ?? this.root).order
  }

  /** The order of rules outside any layer. */
  get unlayered(): number {
    return this.root.order
  }

  /** The order of a layer by its name; that of rules outside any where there is none of the name. */
  named(name: string): number {
    return (this.root.children.get(name) ?? this.root).order
  }

  /** Whether the page has any layer at all. */
  get any(): boolean {
    return this.root.children.size > 0
  }
}

/** The layer that an `@import` puts its sheet in: a name, `''` for an anonymous one, or null. */
export function importLayer(sheet: Sheet, rule: Rule): string | null {
  const prelude = textOf(sheet.site(rule.id), rule.prelude)
  const named = /\blayer\(\s*([^)]*?)\s*\)/i.exec(prelude)
  return named ? named[1] : /\blayer\b/i.test(prelude.replace(/url\([^)]*\)|"[^"]*"|'[^']*'/gi, '')) ? '' : null
}
