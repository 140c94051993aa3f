import {
  appendRule,
  declarationsOf,
  insertRuleAfter,
  insertUnder,
  nestRule,
  removeDeclaration,
  removeRules,
  renameClass,
  setDeclaration,
  setImportant,
  setSelector,
  stateSelectors,
  switchedOff,
  switchOff,
  switchOn,
  textOf,
  type Comment,
  type EditPlan,
  type RuleSite,
  type Sheet,
  type HouseStyle,
} from '../src/core/css'
import { attribute, classesOf, type ElementTree } from '../src/core/language'
import type { Random } from './random'
import { PROPERTIES } from './values'

/** One random edit: what it is, its plan, and what must be true of the file after it. */
export interface Attempt {
  readonly kind: string
  readonly what: string
  readonly plan: EditPlan
  readonly expect: Expectation
}

export type Expectation =
  | {
      readonly of: 'declaration'
      readonly rule: number
      readonly name: string
      readonly value: string
      readonly important: boolean | null
    }
  | { readonly of: 'count'; readonly rule: number; readonly by: number }
  | { readonly of: 'rule'; readonly selector: string; readonly condition: string | null }
  | { readonly of: 'selector'; readonly rule: number; readonly selector: string }
  | { readonly of: 'gone' }
  | { readonly of: 'class'; readonly from: string; readonly to: string }
  | { readonly of: 'attribute'; readonly element: number; readonly name: string; readonly value: string | null }
  | { readonly of: 'text'; readonly element: number; readonly index: number; readonly text: string }
  | { readonly of: 'tag'; readonly element: number; readonly tag: string }

const name = (r: Random) => r.pick(Object.keys(PROPERTIES))

function randomRule(sheet: Sheet, r: Random): RuleSite | null {
  const statements = sheet.statements.filter((s) => s.items.some((i) => i.kind === 'style' || i.kind === 'at'))
  for (let tries = 0; statements.length && tries < 20; tries++) {
    const statement = r.pick(statements)
    const rules = [...sheet.rulesOf(statement)].filter(
      (s) => s.rule.kind === 'style' && !s.parents.some((p) => p.kind === 'at' && /keyframes/.test(p.name)),
    )
    if (rules.length) return r.pick(rules)
  }
  return null
}

export function attemptCss(sheet: Sheet, style: HouseStyle, r: Random): Attempt | null {
  const site = randomRule(sheet, r)
  if (!site) return null
  const label = textOf(site, site.rule.prelude).slice(0, 60)
  const list = declarationsOf(site.rule)
  const rule = site.rule.id
  const n = name(r)
  const value = PROPERTIES[n](r)
  switch (r.below(14)) {
    case 0:
    case 1:
    case 2:
    case 3: {
      // Mostly what is there already, or a part of it.
      const known = list.length && r.below(4) ? list[r.below(list.length)].name : n
      const property = PROPERTIES[known] ? known : n
      const v = PROPERTIES[property](r)
      return {
        kind: 'set',
        what: `${label} { ${property}: ${v} }`,
        plan: setDeclaration(site, style, { name: property, value: v }),
        expect: { of: 'declaration', rule, name: property, value: v, important: null },
      }
    }
    case 4: {
      const important = r.below(2) === 0
      return {
        kind: 'set important',
        what: `${label} { ${n}: ${value} ${important} }`,
        plan: setDeclaration(site, style, { name: n, value, important }),
        expect: { of: 'declaration', rule, name: n, value, important },
      }
    }
    case 5:
      if (!list.length) return null
      return {
        kind: 'remove',
        what: `${label} -${list.length}`,
        plan: removeDeclaration(site, r.below(list.length)),
        expect: { of: 'count', rule, by: -1 },
      }
    case 6:
      if (!list.length) return null
      return {
        kind: 'switch off',
        what: label,
        plan: switchOff(site, r.below(list.length)),
        expect: { of: 'count', rule, by: -1 },
      }
    case 7: {
      const comments = site.rule.children.filter((c): c is Comment => c.kind === 'comment')
      const at = comments.findIndex((c) => switchedOff(site.statement.text, c))
      if (at < 0) return null
      return { kind: 'switch on', what: label, plan: switchOn(site, at), expect: { of: 'count', rule, by: 1 } }
    }
    case 8: {
      if (!list.length) return null
      const at = r.below(list.length)
      const on = r.below(2) === 0
      if (list[at].name.startsWith('--') && list[at].value.from === list[at].value.to) return null
      return {
        kind: 'important',
        what: `${label} ${at} ${on}`,
        plan: setImportant(site, style, at, on),
        expect: { of: 'count', rule, by: 0 },
      }
    }
    case 9: {
      const selector = r.pick([`.new-${r.below(1e6)}`, `${label.split(',')[0].replace(/[{};\n\r]/g, '')}:focus`, `a.b > c-${r.below(1e6)}`])
      const written = { selector, declarations: [{ name: n, value }] }
      const plan = r.below(3) ? insertRuleAfter(sheet, site, style, written) : appendRule(sheet, style, written)
      return {
        kind: 'new rule',
        what: `${selector} { ${n}: ${value} }`,
        plan,
        expect: { of: 'rule', selector, condition: null },
      }
    }
    case 10: {
      if (site.parents.some((p) => p.kind === 'style')) return null
      const selector = stateSelectors(textOf(site, site.rule.prelude), r.pick([':hover', ':focus-visible', ':active']))
      return {
        kind: 'state rule',
        what: selector,
        plan: insertRuleAfter(sheet, site, style, { selector, declarations: [{ name: n, value }] }),
        expect: { of: 'rule', selector, condition: null },
      }
    }
    case 11: {
      if (site.parents.length) return null
      const condition = r.pick(['(max-width: 720px)', '(min-width: 48em)', '(width >= 600px)', 'print'])
      const selector = textOf(site, site.rule.prelude)
      return {
        kind: 'condition',
        what: `@media ${condition} ${label}`,
        plan: insertUnder(sheet, site, style, 'media', condition, { selector, declarations: [{ name: n, value }] }),
        expect: { of: 'rule', selector, condition },
      }
    }
    case 12: {
      const selector = r.pick(['&:hover', '&:focus-visible', '& .inner'])
      return {
        kind: 'nested rule',
        what: `${selector} in ${label}`,
        plan: nestRule(site, style, { selector, declarations: [{ name: n, value }] }),
        expect: { of: 'rule', selector, condition: null },
      }
    }
    default: {
      if (r.below(3) === 0) {
        // What is nested in it goes with it.
        const all = [...sheet.rules()].filter((s) => s.rule === site.rule || s.parents.includes(site.rule))
        const splices = removeRules(sheet, new Set(all.map((s) => s.rule.id)))
        return { kind: 'remove rule', what: label, plan: { ok: true, splices }, expect: { of: 'gone' } }
      }
      const selector = r.pick([`.renamed-${r.below(1e6)}`, `${label.split(',')[0].replace(/[{};\n\r]/g, '')}, .more`, ':is(.a, .b) > c'])
      if (r.below(2))
        return {
          kind: 'selector',
          what: `${label} to ${selector}`,
          plan: setSelector(site, selector),
          expect: { of: 'selector', rule, selector },
        }
      const from = /\.(-?[A-Za-z_][\w-]*)/.exec(textOf(site, site.rule.prelude))?.[1]
      if (!from) return null
      const to = `${from}-${r.below(100)}`
      return {
        kind: 'rename class',
        what: `${from} to ${to}`,
        plan: { ok: true, splices: renameClass(sheet, from, to) },
        expect: { of: 'class', from, to },
      }
    }
  }
}

const TEXTS = ['Plain', 'a < b & c', 'é “x” &amp; y', 'x </p> y', 'one\ntwo', '<b>no</b>', '&copy', ' ', '5 > 4']
const ATTRIBUTE_VALUES = ['', 'x', 'a b', "it's", 'say "x"', '"\'', 'a&b', '&lt;', 'a=b', 'x/', '<i>', 'é', '`', 'two\nlines']
const ANY_TAG = ['div', 'section', 'h2', 'span', 'p', 'li', 'a', 'em']
/** What an element of the kind can be as well, by its content model (HTML §3.2.5). */
const TAGS: readonly [RegExp, readonly string[]][] = [
  [/^(div|section|article|header|footer|main|nav|ul|ol)$/, ['div', 'section', 'article', 'aside', 'header']],
  [/^(h\d|p)$/, ['h2', 'h5', 'p', 'div']],
  [/^(span|a|em|strong|b|i|small)$/, ['span', 'em', 'strong', 'small', 'b']],
  [/^li$/, ['li', 'div']],
]

export function attemptHtml(tree: ElementTree, r: Random): Attempt | null {
  const own = tree.elements.filter((e) => e.startTag)
  if (!own.length) return null
  const element = r.pick(own)
  const { id, tag: now, attributes } = element
  const label = `<${now}> ${id}`
  switch (r.below(8)) {
    case 0:
    case 1: {
      const names = [...attributes.filter((a) => !a.prefix).map((a) => a.name), 'title', 'data-x', 'class', 'id', 'hidden']
      const attr = r.pick(names)
      const value = r.pick(ATTRIBUTE_VALUES)
      return {
        kind: 'attribute',
        what: `${label} ${attr}=${JSON.stringify(value)}`,
        plan: tree.setAttribute(element, attr, value),
        expect: { of: 'attribute', element: id, name: attr, value },
      }
    }
    case 2: {
      if (!attributes.length) return null
      const attr = r.pick(attributes)
      if (attr.prefix) return null
      return {
        kind: 'remove attribute',
        what: `${label} ${attr.name}`,
        plan: tree.removeAttribute(element, attr.name),
        expect: { of: 'attribute', element: id, name: attr.name, value: null },
      }
    }
    case 3: {
      const classes = [...classesOf(element), `added-${r.below(100)}`]
      const value = r.below(3) ? classes.join(' ') : classes.slice(1).join(' ')
      return {
        kind: 'class list',
        what: `${label} ${value}`,
        plan: tree.setAttribute(element, 'class', value),
        expect: { of: 'attribute', element: id, name: 'class', value },
      }
    }
    case 4:
    case 5: {
      const n = name(r)
      const value = PROPERTIES[n](r)
      const plan = tree.setInlineStyle(element, { name: n, value })
      return {
        kind: 'inline style',
        what: `${label} ${n}: ${value} in ${attribute(element, 'style')}`,
        plan,
        expect: { of: 'gone' },
      }
    }
    case 6: {
      // Text that a person can see; white space between tags is not text to edit.
      const seen = element.texts.flatMap((text, i) => (text.trim() !== '' ? [i] : []))
      if (!seen.length || /^(script|style)$/.test(now)) return null
      const index = r.pick(seen)
      const text = r.pick(TEXTS)
      return {
        kind: 'text',
        what: `${label} ${index} ${JSON.stringify(text)}`,
        plan: tree.setText(element, index, text),
        expect: { of: 'text', element: id, index, text },
      }
    }
    default: {
      const fitting = TAGS.find(([kind]) => kind.test(now))?.[1]
      if (!fitting) return null
      // Now and then one that may not do: that has to be refused, or read as it was asked.
      const tag = r.pick(r.below(6) ? fitting : ANY_TAG)
      return {
        kind: 'tag',
        what: `${label} to ${tag}`,
        plan: tree.setTag(element, tag),
        expect: { of: 'tag', element: id, tag },
      }
    }
  }
}
