// @vitest-environment jsdom
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { planIntent, type Intent } from '../core/edit'
import { ID_ATTRIBUTE } from '../core/html'
import { Project } from '../core/project'
import { INTERFACE_ATTRIBUTE } from '../core/html'
import { patchTree } from './patch-tree'

const SCRIPT = `<script src="/agent.js" ${INTERFACE_ATTRIBUTE}="http://localhost"></script>`

interface Tree {
  readonly tag: string
  readonly text: string
  readonly children: readonly Tree[]
}

const trees = fc.letrec<{ tree: Tree }>((tie) => ({
  tree: fc.record({
    tag: fc.constantFrom('div', 'section', 'ul', 'span', 'b'),
    text: fc.constantFrom('', 'Boats', ' leave ', 'at nine'),
    children: fc.oneof({ maxDepth: 3 }, fc.constant([]), fc.array(tie('tree'), { maxLength: 3 })),
  }),
})).tree

const htmlOf = ({ tag, text, children }: Tree): string =>
  tag === 'ul'
    ? `<ul>${children.map((c) => `<li>${htmlOf(c)}</li>`).join('\n')}</ul>`
    : `<${tag}>${text}${children.map((c) => (tag === 'span' || tag === 'b' ? '' : htmlOf(c))).join('\n  ')}</${tag}>`

const pageOf = (list: readonly Tree[]): string =>
  `<!DOCTYPE html>\n<html><head><title>Quay</title></head>\n<body>\n${list.map(htmlOf).join('\n')}\n</body></html>\n`

const projectOf = (html: string): Project => new Project([{ key: 1, path: 'index.html', bytes: new TextEncoder().encode(html) }])
const published = (project: Project): string => project.published('index.html', SCRIPT) as string

/** The page as a browser has it: the agent's own script takes itself away. */
function live(html: string): Document {
  const doc = new DOMParser().parseFromString(html, 'text/html')
  doc.querySelector(`script[${INTERFACE_ATTRIBUTE}]`)?.remove()
  return doc
}

function intentOf(project: Project, kind: string, a: number, b: number): Intent | null {
  const own = project.tree('index.html').elements.filter((e) => e.startTag && !/^(html|head|body|title)$/.test(e.tag))
  if (own.length === 0) return null
  const source = (n: number) => project.sourceOf('index.html', own[n % own.length].id)
  switch (kind) {
    case 'move':
      return { kind, sources: [source(a)], place: { source: source(b), where: b % 2 ? 'after' : 'first' } }
    case 'insert-html':
      return { kind, place: { source: source(a), where: 'after' }, html: '<p class="new">New <i>text</i></p>', what: 'p' }
    case 'set-text':
      return { kind, source: source(a), index: 0, text: 'Another' }
    case 'set-attribute':
      return { kind, source: source(a), name: 'title', value: `${b}` }
    case 'wrap':
      return { kind, sources: [source(a)], tag: 'div' }
    default:
      return { kind: kind as 'delete' | 'duplicate' | 'unwrap', sources: [source(a)] }
  }
}

const KINDS = ['move', 'move', 'insert-html', 'set-text', 'set-attribute', 'wrap', 'delete', 'duplicate', 'unwrap']
const steps = fc.array(fc.tuple(fc.constantFrom(...KINDS), fc.nat(1000), fc.nat(1000)), { minLength: 1, maxLength: 5 })

/** Applies an intent; whether it was planned. */
function apply(project: Project, intent: Intent | null): boolean {
  const plan = intent && planIntent(project, intent)
  if (plan?.ok) for (const { path, splices } of plan.changes) project.apply(path, splices)
  return plan?.ok ?? false
}

describe('a live tree brought to what was written', () => {
  test('is what the parser makes of it, and elements that stay are the same ones', () => {
    let patched = 0
    let refused = 0
    fc.assert(
      fc.property(fc.array(trees, { minLength: 1, maxLength: 4 }), steps, (list, wanted) => {
        const project = projectOf(pageOf(list))
        const doc = live(published(project))
        for (const [kind, a, b] of wanted) {
          const before = published(project)
          if (!apply(project, intentOf(project, kind, a, b))) continue
          const objects = new Map([...doc.querySelectorAll(`[${ID_ATTRIBUTE}]`)].map((e) => [e.getAttribute(ID_ATTRIBUTE), e]))
          if (!patchTree(doc, before, published(project))) {
            refused++
            return
          }
          patched++
          expect(doc.documentElement.outerHTML).toBe(live(published(project)).documentElement.outerHTML)
          for (const e of doc.querySelectorAll(`[${ID_ATTRIBUTE}]`)) {
            const known = objects.get(e.getAttribute(ID_ATTRIBUTE))
            if (known && known.localName === e.localName) expect(e).toBe(known)
          }
        }
      }),
      { numRuns: 120 },
    )
    // Loading the page again is the exception.
    expect(patched).toBeGreaterThan(10 * refused)
  })

  test('keeps what scripts put there, and what they changed, where the source says nothing of it', () => {
    fc.assert(
      fc.property(
        fc.array(trees, { minLength: 1, maxLength: 3 }),
        steps,
        fc.array(fc.nat(1000), { maxLength: 4 }),
        (list, wanted, spots) => {
          const project = projectOf(pageOf(list))
          const doc = live(published(project))
          const body = [...doc.body.querySelectorAll(`[${ID_ATTRIBUTE}]`)]
          const added = spots.map((n) => {
            const e = doc.createElement('output')
            e.textContent = 'by a script'
            body[n % body.length].append(e)
            return e
          })
          const field = doc.body.appendChild(doc.createElement('input'))
          field.value = 'typed'
          for (const [kind, a, b] of wanted) {
            const before = published(project)
            if (!apply(project, intentOf(project, kind, a, b))) continue
            const parents = new Map(added.map((e) => [e, e.parentElement?.getAttribute(ID_ATTRIBUTE) ?? null]))
            if (!patchTree(doc, before, published(project))) return
            const after = live(published(project))
            for (const e of added) {
              const parent = parents.get(e)
              // With an element of the source that went, what was in it goes.
              const isThere = parent !== null && parent !== undefined && after.querySelector(`[${ID_ATTRIBUTE}="${parent}"]`) !== null
              if (isThere) expect([doc.contains(e), e.parentElement?.getAttribute(ID_ATTRIBUTE)]).toEqual([true, parent])
            }
            expect([doc.body.contains(field), field.value]).toEqual([true, 'typed'])
          }
        },
      ),
      { numRuns: 80 },
    )
  })

  test('is loaded again where a script would run, a sheet would be another, or copies cannot be told apart', () => {
    const before = published(projectOf('<!DOCTYPE html><body><p>a</p></body>'))
    const having = (html: string) => before.replace('</p>', `</p>${html}`)
    expect(patchTree(live(before), before, having('<script>1</script>'))).toBe(false)
    expect(patchTree(live(before), before, having('<style>p{}</style>'))).toBe(false)
    expect(patchTree(live(before), before, having('<link rel="stylesheet" href="a.css">'))).toBe(false)
    const copied = live(before)
    copied.body.append(copied.querySelector('p')!.cloneNode(true))
    expect(patchTree(copied, before, having(`<hr ${ID_ATTRIBUTE}="1.99">`))).toBe(false)
    expect(patchTree(live(before), before, having(`<hr ${ID_ATTRIBUTE}="1.99">`))).toBe(true)
  })
})
