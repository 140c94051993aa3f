import { insertRuleAfter, prependRule, refuse, type NewRule, type Refused, type RuleSite } from '../css'
import type { Project, SheetRef } from '../project'
import { relativeUrl } from '../value'
import type { AddFaceIntent, FaceFile, PlannedEdit } from './intent'
import { editableSheet, inFile } from './target'

const quoteOf = (ref: SheetRef): string => (/url\(\s*'|:\s*'/.test(ref.sheet.text) ? "'" : '"')

function faceRule(ref: SheetRef, family: string, face: FaceFile): NewRule {
  const q = quoteOf(ref)
  return {
    selector: '@font-face',
    declarations: [
      { name: 'font-family', value: `${q}${family}${q}` },
      { name: 'src', value: `url(${q}${relativeUrl(ref.path, face.path)}${q}) format(${q}woff2${q})` },
      { name: 'font-weight', value: face.weight },
      { name: 'font-style', value: face.style },
      { name: 'font-display', value: 'swap' },
    ],
  }
}

/** Font files and their rules: after the last face of the sheet, or before its first rule. */
export function planAddFace(project: Project, { family, faces, besides, sheet: key }: AddFaceIntent): PlannedEdit | Refused {
  const ref = editableSheet(project, key)
  if ('ok' in ref) return ref
  if (!/^[\w -]+$/.test(family)) return refuse('bad-name', `“${family}” cannot be the name of a face.`)
  const clash = [...faces, ...besides].find((f) => project.has(f.path))
  if (clash) return refuse('bad-name', `The project has a file ${clash.path} already.`)
  const { sheet, style } = ref
  const known = [...sheet.rules()].filter(
    (s) => s.rule.kind === 'at' && s.rule.name === 'font-face' && s.parents.length === 0 && s.rule.closed,
  )
  const after: RuleSite | undefined = known.at(-1)
  const rules = faces.map((f) => faceRule(ref, family, f))
  const plans = rules.map((rule) => (after ? insertRuleAfter(sheet, after, style, rule) : prependRule(sheet, style, rule)))
  const refused = plans.find((p) => !p.ok)
  if (refused && !refused.ok) return refused
  const splices = plans.flatMap((p) => (p.ok ? p.splices : []))
  const at = splices[0].from
  const insert = splices.map((s) => s.insert).join('')
  return {
    ok: true,
    changes: inFile(ref, [{ from: at, to: at, insert }]),
    adds: [...faces, ...besides].map(({ path, bytes }) => ({ path, bytes })),
    path: ref.path,
    name: '@font-face',
    before: null,
    after: `${family} (${faces.map((f) => f.path).join(', ')})`,
    at: ref.base + at + insert.indexOf('@font-face'),
    selectors: [],
    label: '@font-face',
    preview: [],
  }
}
