import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { removeDeclaration, setDeclaration } from '../../src/core/css'
import { removeAttribute, setAttribute, setTagName, setText } from '../../src/core/html'
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
    const doc = project.document(path)
    const element = doc.elements.find((e) => e.node.tagName === edit.tag)!
    if (edit.edit === 'tag') return setTagName(doc, element, edit.value)
    if (edit.edit === 'remove-attribute') return removeAttribute(doc, element, edit.name)
    return edit.edit === 'attribute' ? setAttribute(doc, element, edit.name, edit.value) : setText(doc, element, 0, edit.value)
  })()
  expect(plan.ok ? undefined : plan.reason).toBe(edit.refused)
  if (plan.ok) project.apply(path, plan.splices)
  expect(Buffer.from(project.bytes(path)).toString('latin1')).toBe(Buffer.from(read(`after.${extension}`)).toString('latin1'))
})
