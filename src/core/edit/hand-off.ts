/** A note of what was changed and what is wished for, for a colleague or an assistant; `public/schemas/hand-off-1.json` describes it. */
export interface HandOff {
  readonly $schema: string
  readonly project: string
  /** ISO 8601. */
  readonly made: string
  readonly edits: readonly HandOffEdit[]
  readonly wishes: readonly Wish[]
}

export interface HandOffEdit {
  readonly file: string
  /** 1-based. */
  readonly line: number
  /** The rule's selectors, the element or the place. */
  readonly where: string
  readonly what: string
  readonly before: string | null
  readonly after: string
  readonly why: string
  readonly reach: number
  readonly verdict: string
}

/** Words about elements, without an edit. */
export interface Wish {
  readonly words: string
  /** With a selector that names each alone on its page, and its start tag. */
  readonly elements: readonly {
    readonly file: string
    readonly line: number
    readonly selector: string
    readonly html: string
  }[]
}

export const HAND_OFF_SCHEMA = '/schemas/hand-off-1.json'

// Backticks in a value would end its code span (CommonMark §6.1).
const code = (text: string): string => {
  const longest = Math.max(0, ...[...text.matchAll(/`+/g)].map((m) => m[0].length))
  const fence = '`'.repeat(longest + 1)
  const pad = /^`|`$/.test(text) ? ' ' : ''
  return `${fence}${pad}${text.replace(/\s+/g, ' ')}${pad}${fence}`
}

// A line of text as it is: what would begin markup, a link or a block is escaped (CommonMark §2.4), and HTML too.
const plain = (text: string): string =>
  text
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/[\\`*_[\]<>#!|~&]/g, '\\$&')
    .replace(/^[-+=]|^(\d+)(?=[.)])/, (all) => (/\d/.test(all) ? `${all}\\` : `\\${all}`))
const lines = (text: string): string[] => text.trim().split(/\r?\n/).map(plain)

/** The note in words (CommonMark). */
export function handOffText({ project, made, edits, wishes }: HandOff): string {
  const out = [
    `# ${plain(project)}: what was changed`,
    '',
    `${edits.length} ${edits.length === 1 ? 'edit' : 'edits'}, ${made.slice(0, 16).replace('T', ' ')} UTC.`,
  ]
  for (const [i, e] of edits.entries()) {
    out.push(
      '',
      `## ${i + 1}. ${code(e.where)}: ${plain(e.what)}`,
      '',
      `- where: ${code(`${e.file}:${e.line}`)}`,
      ...(e.before === null ? [] : [`- before: ${code(e.before)}`]),
      `- after: ${code(e.after)}`,
      `- why there: ${plain(e.why)}`,
      `- reaches ${e.reach} ${e.reach === 1 ? 'element' : 'elements'}; read back: ${plain(e.verdict)}`,
    )
  }
  if (wishes.length) out.push('', '# What is wished for')
  for (const w of wishes) {
    out.push('', ...lines(w.words))
    for (const e of w.elements) out.push('', `- ${code(e.selector)} in ${code(`${e.file}:${e.line}`)}: ${code(e.html)}`)
  }
  return `${out.join('\n')}\n`
}
