import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { setDeclaration } from '../../src/core/css'
import { setAttribute, setText } from '../../src/core/html'
import { Project } from '../../src/core/project'

type Edit =
  | { readonly edit: 'declaration'; readonly name: string; readonly value: string }
  | { readonly edit: 'attribute'; readonly tag: string; readonly name: string; readonly value: string }
  | { readonly edit: 'text'; readonly tag: string; readonly value: string }

const ROOT = 'tests/cases'

/** Each folder is an edit that once went wrong: the file before, the edit, and the file as it must be after. */
test.each(readdirSync(ROOT))('%s', (name) => {
  const extension = existsSync(join(ROOT, name, 'before.css')) ? 'css' : 'html'
  const read = (file: string) => new Uint8Array(readFileSync(join(ROOT, name, file)))
  const edit = JSON.parse(readFileSync(join(ROOT, name, 'edit.json'), 'utf8')) as Edit
  const path = `x.${extension}`
  const project = new Project([{ key: 1, path, bytes: read(`before.${extension}`) }])
  const plan = (() => {
    if (edit.edit === 'declaration') {
      const { sheet, style } = project.sheet(path)!
      return setDeclaration([...sheet.rules()][0], style, edit)
    }
    const doc = project.document(path)
    const element = doc.elements.find((e) => e.node.tagName === edit.tag)!
    return edit.edit === 'attribute' ? setAttribute(doc, element, edit.name, edit.value) : setText(doc, element, 0, edit.value)
  })()
  if (!plan.ok) throw new Error(plan.why)
  project.apply(path, plan.splices)
  expect(Buffer.from(project.bytes(path)).toString('latin1')).toBe(Buffer.from(read(`after.${extension}`)).toString('latin1'))
})
