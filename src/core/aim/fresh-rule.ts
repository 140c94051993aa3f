import { escapeName } from '../css'
import type { SheetRef } from '../project'
import { vocabulariesOf } from '../utility'
import type { ElementCascade, Matching } from './element-cascade'

/** Where a rule that is not there yet would stand: in a sheet of the source, after a rule that matches or at the end. */
export interface Home {
  readonly ref: SheetRef
  /** What matches, as the page has it. */
  readonly after: Matching | null
  /** The same in `ref`. */
  readonly rule: number | null
  /** The place of the sheet among those of the page. */
  readonly order: number
  /** Offset in `ref`. */
  readonly end: number
}

export function homeAfter(after: Matching): Home {
  const { ref, site } = after.source ?? after
  return { ref, after, rule: site.rule.id, order: after.evidence.order, end: site.statement.start + site.rule.span.to }
}

/** What a rule of the element's own that is not there yet would be called and where it would stand: the same for every property. */
export class FreshRule {
  private knownHome: Home | null | undefined
  private knownSelector: string | undefined
  private knownClass: string | undefined

  constructor(private readonly c: ElementCascade) {}

  /** The sheet and the rule in it after which it stands best: the last that matches, at the top level. */
  get home(): Home | null {
    return this.knownHome === undefined ? (this.knownHome = this.findHome()) : this.knownHome
  }

  /** A short selector that an author would write for the element: its id, its classes, or its tag under a class. */
  get selector(): string {
    return (this.knownSelector ??= this.nameIt())
  }

  /** A class name that the project does not have yet, as an author would make it: after the element's own class or the block around it. */
  get className(): string {
    return (this.knownClass ??= this.nameClass())
  }

  private findHome(): Home | null {
    const { evidence, project } = this.c
    const editable = this.c.level(0).matching.filter((m) => m.site.parents.length === 0 && m.site.rule.closed && m.source)
    const after = [...editable].sort((a, b) => b.evidence.order - a.evidence.order || b.site.statement.start - a.site.statement.start)[0] ?? null
    if (after) return homeAfter(after)
    const sheets = evidence.sheets.flatMap((key, order): Home[] => {
      const served = project.sheet(key)
      if (!served) return []
      // At the end of what a compiled sheet is made from is at the end of it.
      const ref = served.generated === null ? served : project.generatedSheets().find((g) => g.ref.key === key)?.sources[0]
      return ref && project.isEditable(ref) ? [{ ref, after: null, rule: null, order, end: ref.sheet.length }] : []
    })
    return sheets.at(-1) ?? null
  }

  private nameIt(): string {
    const { info, ancestors, unique } = this.c.evidence
    const isUtility = (c: string) => vocabulariesOf(this.c.project).some((v) => v.read(c))
    const classes = info.classes.filter((c) => !isUtility(c))
    if (info.id) return `#${escapeName(info.id)}`
    if (classes.length) return classes.slice(0, 3).map((c) => `.${escapeName(c)}`).join('')
    const above = ancestors.slice(1).find((a) => a.id || a.classes.some((c) => !isUtility(c)))
    // Where nothing around it has a name, its place is all there is to tell it by.
    if (!above) return unique
    const name = above.classes.find((c) => !isUtility(c))
    return `${name ? `.${escapeName(name)}` : `#${escapeName(above.id)}`} ${info.tag}`
  }

  private nameClass(): string {
    const { info, ancestors } = this.c.evidence
    const above = ancestors.slice(1).find((a) => a.classes.length)?.classes[0]
    const stem = info.classes[0] ? `${info.classes[0]}-alt` : above ? `${above}-${info.tag}` : `own-${info.tag}`
    let name = stem
    for (let n = 2; this.c.project.mentions(name); n++) name = `${stem}-${n}`
    return name
  }
}
