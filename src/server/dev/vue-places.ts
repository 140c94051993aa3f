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
    if (node.type !== ELEMENT || node.tagType !== PLAIN_ELEMENT) return
    const place = placeIn(filename, node.loc.start.offset, root)
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

/** The templates of files, by the files as they were read last. */
const templates = new Map<string, { readonly text: string; readonly from: number; readonly mark: string }>()

function placeIn(filename: string, offset: number, root: string): string | null {
  const file = filename.replaceAll('\\', '/').replace(/\?.*$/, '')
  if (!file.startsWith(`${root}/`) || file.includes('/node_modules/')) return null
  const text = readFileSync(file, 'utf8')
  let known = templates.get(file)
  if (known?.text !== text) {
    const template = blocksOf(text).find((b) => b.tag === 'template')?.content
    if (!template) return null
    known = { text, from: template.from, mark: textMark(text.slice(template.from, template.to)) }
    templates.set(file, known)
  }
  return offset < known.from ? null : stampText({ path: file.slice(root.length + 1), nth: offset - known.from, mark: known.mark })
}
