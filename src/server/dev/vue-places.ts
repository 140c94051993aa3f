import { readFileSync } from 'node:fs'
import { PLACE_ATTRIBUTE, stampText } from '../../core/html'
import { blocksOf } from '../../core/sfc'
import { textMark } from '../../core/text'

// As much of Vue's compiler (Vue: compiler-core's AST and node transforms) and of its Vite plugin as is used.
interface Located {
  readonly loc: { readonly start: { readonly offset: number } }
}
interface VueNode extends Located {
  readonly type: number
  readonly tagType?: number
  readonly props: object[]
}
type NodeTransform = (node: VueNode, context: { readonly filename: string }) => void
interface VueOptions {
  readonly template?: { readonly compilerOptions?: { readonly nodeTransforms?: readonly NodeTransform[] } }
}
interface VuePlugin {
  readonly name: string
  readonly api?: { options: VueOptions }
}

const ROOT = 0
const ELEMENT = 1
const PLAIN_ELEMENT = 0
const TEXT = 2
const ATTRIBUTE = 6

/** Has Vue's compiler give each element the place of its tag in the template of its file. `root` is the top of the project. */
export function tellVuePlaces(plugins: readonly VuePlugin[], root: string): void {
  const api = plugins.find(({ name }) => name === 'vite:vue')?.api
  if (!api) return
  const { options } = api
  const compilerOptions = options.template?.compilerOptions
  const transform: NodeTransform = (node, { filename }) => {
    // It comes first; its elements are of the same text.
    if (node.type === ROOT) readTemplate(filename, root)
    if (node.type !== ELEMENT || node.tagType !== PLAIN_ELEMENT) return
    const place = placeIn(filename, node.loc.start.offset)
    if (place !== null)
      node.props.push({
        type: ATTRIBUTE,
        name: PLACE_ATTRIBUTE,
        nameLoc: node.loc,
        loc: node.loc,
        value: { type: TEXT, content: place, loc: node.loc },
      })
  }
  api.options = {
    ...options,
    template: {
      ...options.template,
      compilerOptions: { ...compilerOptions, nodeTransforms: [...(compilerOptions?.nodeTransforms ?? []), transform] },
    },
  }
}

/** The templates of files of the project, as they were compiled last. */
const templates = new Map<string, { readonly path: string; readonly from: number; readonly mark: string }>()

function readTemplate(filename: string, root: string): void {
  const file = filename.replaceAll('\\', '/').replace(/\?.*$/, '')
  templates.delete(filename)
  if (!file.startsWith(`${root}/`) || file.includes('/node_modules/')) return
  const text = readFileSync(file, 'utf8')
  const template = blocksOf(text).find((b) => b.tag === 'template')?.content
  if (template)
    templates.set(filename, {
      path: file.slice(root.length + 1),
      from: template.from,
      mark: textMark(text.slice(template.from, template.to)),
    })
}

function placeIn(filename: string, offset: number): string | null {
  const known = templates.get(filename)
  return !known || offset < known.from ? null : stampText({ path: known.path, nth: offset - known.from, mark: known.mark })
}
