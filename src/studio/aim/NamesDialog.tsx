'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEffect, useState } from 'react'
import { isStyleModule } from '../../core/css'
import type { RenameClassIntent, RuleAim, SelectorIntent } from '../../core/edit'
import { theDesk, type WouldWrite } from '../../desk'
import { useReading } from '../session/useReading'
import { PatchView } from '../keeping/PatchView'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './NamesDialog.module.css'
import { currentAim } from '../session/landings'

/** How long typing rests before it is told what it would write; ms. */
const REST = 150

type Asked = RenameClassIntent | SelectorIntent

/** What would be written, with how many elements of the page it is about, before and after, and what stays as it is. */
interface Told {
  readonly writes: WouldWrite
  readonly reach: { readonly before: number; readonly after: number }
  readonly scripts: readonly { readonly path: string; readonly line: number }[]
  readonly taken: boolean
}

/** Another selector for the rule that is aimed at, or another name for a class wherever the project has it; all that changes is shown first. */
export function NamesDialog() {
  const { session } = useSession()
  const property = useStudio((s) => s.property)
  const source = useStudio((s) => s.picked?.report.info.source ?? null)
  const [ref] = useState(() => currentAim(property)?.ref)
  const rule: RuleAim | null = ref?.kind === 'rule' ? ref : null
  const names = useReading(
    rule ? `${rule.sheet} ${rule.rule}` : '',
    () => (rule ? theDesk().reading.namesOf(rule.sheet, rule.rule) : null),
    true,
  )
  const element = useReading(source ?? '', () => (source ? theDesk().places.elementOf(source) : null), true)
  const [asked, setAsked] = useState<Asked | null>(null)
  const [told, setTold] = useState<Told | null>(null)
  const own =
    element?.attributes
      .find((a) => a.name === 'class')
      ?.value.split(/\s+/)
      .filter(Boolean) ?? []
  // A class of a style module is none of the list's own: the script takes it from there.
  const module = rule && isStyleModule(rule.sheet) ? rule.sheet : undefined
  const classes = [
    ...(names?.classes ?? []).map((from) => ({ from, module })),
    ...own.filter((from) => module !== undefined || !names?.classes.includes(from)).map((from) => ({ from, module: undefined })),
  ]
  const close = () => setStudio({ naming: false })

  useEffect(() => {
    if (!asked) return undefined
    let current = true
    const count = async (selectors: readonly string[]) =>
      selectors.length === 0
        ? 0
        : module === undefined
          ? (await session.selection.find(selectors.join(', '))).length
          : ((await session.page.ask('reach', { selectors: [selectors.join(', ')], sheets: [module] }))[0] ?? 0)
    const tell = async () => {
      const writes = await theDesk().reading.wouldWrite(asked)
      const besides = asked.kind === 'rename-class' ? await theDesk().reading.besidesRename(asked) : { scripts: [], taken: false }
      const before = await count(
        asked.kind === 'rename-class' ? [`.${CSS.escape(asked.from)}`] : await theDesk().reading.selectors(asked.aim.sheet, asked.aim.rule),
      )
      const after = asked.kind === 'rename-class' ? before : await count(writes.ok ? writes.selectors : [])
      if (current) setTold({ writes, reach: { before, after }, ...besides })
    }
    const timer = setTimeout(() => void tell(), REST)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [asked, session, module])

  const ask = (next: Asked | null) => {
    setAsked(next)
    setTold(null)
  }
  const selectors = told?.writes.ok ? told.writes.selectors : []
  const strange = selectors.find((s) => !CSS.supports(`selector(${s})`))
  const why = told?.writes.ok === false ? told.writes.why : strange ? `This browser does not take ${strange} as a selector.` : null
  const files = told?.writes.ok && !why ? told.writes.files : []
  const places = files.reduce((n, f) => n + f.places, 0)
  const write = async () => {
    if (asked && told && (await session.making.everywhere(asked, told.reach.after))) close()
  }
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="names-title">
      <DialogTitle id="names-title">Selector and classes</DialogTitle>
      <DialogContent>
        <div className={styles.body}>
          <div className={styles.fields}>
            {rule && names && (
              <Name
                label="Selector of this rule"
                value={names.selector}
                current={asked?.kind === 'set-selector' ? asked.selector : null}
                onType={(selector) => ask(selector === names.selector ? null : { kind: 'set-selector', aim: rule, selector })}
              />
            )}
            {classes.length > 0 && <h3>A class, wherever the project has it</h3>}
            {classes.map(({ from, module: of }) => (
              <Name
                key={`${of ?? ''} ${from}`}
                label={`Class ${from}`}
                short={`.${from}`}
                value={from}
                current={asked?.kind === 'rename-class' && asked.from === from && asked.module === of ? asked.to : null}
                onType={(to) => ask(to === from ? null : { kind: 'rename-class', from, to, ...(of !== undefined && { module: of }) })}
              />
            ))}
          </div>
          <div data-testid="names-writes" aria-live="polite">
            {!asked && <p className={styles.hint}>Type another name: every line that would change is shown here before it is written.</p>}
            {why && (
              <p className={styles.warn} role="alert">
                {why}
              </p>
            )}
            {told && !why && (
              <p className={styles.hint}>
                {asked?.kind === 'set-selector' ? (
                  <>
                    It matches <b>{told.reach.before}</b> on this page now, and <b>{told.reach.after}</b> then.
                  </>
                ) : (
                  <>
                    <b>{told.reach.before}</b> on this page {told.reach.before === 1 ? 'has' : 'have'} it.
                  </>
                )}{' '}
                {places} {places === 1 ? 'place' : 'places'} in {files.length} {files.length === 1 ? 'file' : 'files'}.
              </p>
            )}
            {told?.taken && <p className={styles.warn}>The project has a class of that name already: the two will be one.</p>}
            {told && told.scripts.length > 0 && (
              <p className={styles.warn}>
                Scripts that say the old name stay as they are:{' '}
                {told.scripts
                  .slice(0, 4)
                  .map((s) => `${s.path}:${s.line}`)
                  .join(', ')}
                {told.scripts.length > 4 && ` and ${told.scripts.length - 4} more lines`}.
              </p>
            )}
            {files.map((f) => (
              <section key={f.path} aria-label={f.path}>
                <h4>{f.path}</h4>
                <PatchView patch={f.patch} />
              </section>
            ))}
          </div>
        </div>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
        <Button variant="contained" disabled={!asked || !told || why !== null} onClick={() => void write()}>
          {asked?.kind === 'rename-class' ? 'Rename it' : 'Change the selector'}
        </Button>
      </DialogActions>
    </Dialog>
  )
}

interface NameProps {
  readonly label: string
  /** Shown before the field, where the label is only read out. */
  readonly short?: string
  readonly value: string
  /** As it is being typed; null while it is not. */
  readonly current: string | null
  readonly onType: (text: string) => void
}

function Name({ label, short, value, current, onType }: NameProps) {
  return (
    <label className={styles.name} data-asked={current !== null || undefined}>
      <span>{short ?? label}</span>
      <input type="text" aria-label={label} spellCheck={false} value={current ?? value} onChange={(e) => onType(e.target.value)} />
    </label>
  )
}
