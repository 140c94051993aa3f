import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { removeDeclaration, setDeclaration } from '../../src/core/css'
import { Project } from '../../src/core/project'

type Edit = { /** Why it is not made, where it must not be. */ readonly refused?: string } & (
  | { readonly edit: 'declaration'; readonly name: string; readonly value: string }
  | { readonly edit: 'remove'; readonly index: number }
  | { readonly edit: 'attribute'; readonly tag: string; readonly name: string; readonly value: string }
  | { readonly edit: 'remove-attribute'; readonly tag: string; readonly name: string }
  | { readonly edit: 'text'; readonly tag: string; readonly value: string }
  | { readonly edit: 'tag'; readonly tag: string; readonly value: string }
)

const ROOT = 'tests/cases'

/** Each folder is an edit that once went wrong: the file before, the edit, and the file as it must be after. */
test.each(readdirSync(ROOT))('%s', (name) => {
  const extension = existsSync(join(ROOT, name, 'before.css')) ? 'css' : 'html'
  const read = (file: string) => new Uint8Array(readFileSync(join(ROOT, name, file)))
  const edit = JSON.parse(readFileSync(join(ROOT, name, 'edit.json'), 'utf8')) as Edit
  const path = `x.${extension}`
  const project = new Project([{ key: 1, path, bytes: read(`before.${extension}`) }])
  const plan = (() => {
    if (edit.edit === 'declaration' || edit.edit === 'remove') {
      const { sheet, style } = project.sheet(path)!
      const [first] = sheet.rules()
      return edit.edit === 'remove' ? removeDeclaration(first, edit.index) : setDeclaration(first, style, edit)
    }
    const tree = project.tree(path)
    const element = tree.elements.find((e) => e.tag === edit.tag)!
    if (edit.edit === 'tag') return tree.setTag(element, edit.value)
    if (edit.edit === 'remove-attribute') return tree.removeAttribute(element, edit.name)
    return edit.edit === 'attribute' ? tree.setAttribute(element, edit.name, edit.value) : tree.setText(element, 0, edit.value)
  })()
  expect(plan.ok ? undefined : plan.reason).toBe(edit.refused)
  if (plan.ok) project.apply(path, plan.splices)
  expect(Buffer.from(project.bytes(path)).toString('latin1')).toBe(Buffer.from(read(`after.${extension}`)).toString('latin1'))
})
