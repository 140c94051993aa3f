'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEffect, useState } from 'react'
import type { Candidate, NewRuleRef } from '../../core/aim'
import { widthsBetween } from '../../core/project'
import { theDesk, type WouldWrite } from '../../desk'
import { useReading } from '../session/useReading'
import { PatchView } from '../keeping/PatchView'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './NamesDialog.module.css'

/** How long typing rests before it is checked and counted; ms. */
const REST = 150

interface Told {
  readonly writes: WouldWrite
  /** Elements of the page; null where the browser does not take the selector. */
  readonly reach: number | null
}

const px = (text: string): number | null => (/^\d+$/.test(text.trim()) ? Number(text) : null)

/** A rule that is not there yet: any selector, in any sheet, layer or rule of the page's, at any widths. It is where the next edits land. */
export function RuleDialog() {
  const { session } = useSession()
  const picked = useStudio((s) => s.picked)!
  const property = useStudio((s) => s.property)
  const scale = useStudio((s) => s.scale)
  const rules = picked.report.matched[0]?.map(({ sheet, rule }) => ({ sheet, rule })) ?? []
  const knownHomes = useReading(`${picked.report.info.node}`, () => theDesk().reading.ruleHomes(picked.report.sheets, rules), true)
  const homes = knownHomes ?? []
  const [first] = useState(() => picked.aims.get(property)?.candidates.find((c) => c.ref.kind === 'new-rule'))
  const [selector, setSelector] = useState(
    first?.label ?? (picked.report.info.classes[0] ? `.${picked.report.info.classes[0]}` : picked.report.info.tag),
  )
  const [chosenSheet, setSheet] = useState<string | null>(null)
  const [where, setWhere] = useState('end')
  const [layer, setLayer] = useState('')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const [told, setTold] = useState<Told | null>(null)
  const sheet = chosenSheet ?? (first && 'sheet' in first.ref ? first.ref.sheet : homes.at(-1)?.sheet) ?? ''
  const home = homes.find((h) => h.sheet === sheet)
  const under = widthsBetween(scale, px(from), px(to))
  const wrong =
    knownHomes !== null && sheet === ''
      ? 'The page has no sheet of the project that a rule can stand in.'
      : [from, to].some((t) => t.trim() !== '' && px(t) === null)
        ? 'Widths are whole numbers of px.'
        : px(from) !== null && px(to) !== null && px(from)! > px(to)!
          ? 'The first width is greater than the second.'
          : null
  const [way, at] = where.split(' ')
  const after = at === undefined ? null : Number(at)
  const ref: NewRuleRef = {
    kind: 'new-rule',
    sheet,
    after,
    selector: selector.trim(),
    under,
    ...(layer && way === 'end' && { layer }),
    ...(way === 'in' && { nested: true }),
  }
  const key = JSON.stringify(ref)
  const value = picked.aims.get(property)?.written ?? picked.report.computed[property] ?? '0'
  const close = () => {
    setStudio({ composing: false })
    void session.selection.reach.show()
  }

  useEffect(() => {
    const asked = JSON.parse(key) as NewRuleRef
    // The sheets are still being read, or there is none.
    if (asked.sheet === '') return
    let current = true
    const tell = async () => {
      const writes =
        asked.selector === ''
          ? { ok: false as const, why: 'Type a selector.' }
          : await theDesk().reading.wouldWrite({ kind: 'set', aim: asked, name: property, value })
      const reach = writes.ok ? await session.selection.reach.try(writes.selectors.join(', '), asked.sheet) : null
      if (current) setTold({ writes, reach })
    }
    const timer = setTimeout(() => void tell(), REST)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [key, property, value, session])

  const why =
    wrong ??
    (told?.writes.ok === false
      ? told.writes.why
      : told && told.reach === null
        ? `This browser does not take “${selector.slice(0, 60)}” as a selector.`
        : null)
  const use = () => {
    if (!told?.writes.ok || why) return
    const place: Candidate = {
      ref,
      path: home?.path ?? '',
      line: 1,
      label: told.writes.selectors.join(', '),
      conditions: under ? [`@media ${under}`] : [],
      specificity: null,
      reach: told.reach,
      current: null,
      important: false,
      asImportant: false,
      wins: true,
      losesTo: null,
      elsewhere: false,
      overridden: [],
      fits: true,
      off: false,
      reason: 'a rule of your own',
    }
    session.selection.choosePlace(property, place)
    close()
  }
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="rule-title">
      <DialogTitle id="rule-title">A new rule</DialogTitle>
      <DialogContent>
        <div className={styles.body}>
          <div className={styles.fields}>
            <label className={styles.name}>
              <span>Selector</span>
              <input
                type="text"
                autoFocus
                spellCheck={false}
                value={selector}
                onChange={(e) => setSelector(e.target.value)}
                onKeyDown={(e) => e.key === 'Enter' && use()}
              />
            </label>
            <label className={styles.name}>
              <span>Sheet</span>
              <select
                value={sheet}
                onChange={(e) => {
                  setSheet(e.target.value)
                  setWhere('end')
                  setLayer('')
                }}
              >
                {homes.map((h) => (
                  <option key={h.sheet} value={h.sheet}>
                    {h.sheet.startsWith('#') ? `${h.path}, a style element` : h.path}
                  </option>
                ))}
              </select>
            </label>
            <label className={styles.name}>
              <span>Where</span>
              <select value={where} onChange={(e) => setWhere(e.target.value)}>
                <option value="end">at the end</option>
                {home?.rules.map((r) => (
                  <option key={`after ${r.rule}`} value={`after ${r.rule}`}>
                    after {r.selector} (line {r.line})
                  </option>
                ))}
                {home?.rules.map((r) => (
                  <option key={`in ${r.rule}`} value={`in ${r.rule}`}>
                    nested in {r.selector} (line {r.line})
                  </option>
                ))}
              </select>
            </label>
            {home && home.layers.length > 0 && way === 'end' && (
              <label className={styles.name}>
                <span>Layer</span>
                <select value={layer} onChange={(e) => setLayer(e.target.value)}>
                  <option value="">none</option>
                  {home.layers.map((l) => (
                    <option key={l}>{l}</option>
                  ))}
                </select>
              </label>
            )}
            <div className={styles.ends}>
              <label className={styles.name}>
                <span>From px</span>
                <input
                  type="text"
                  inputMode="numeric"
                  aria-label="From this width, px"
                  value={from}
                  onChange={(e) => setFrom(e.target.value)}
                />
              </label>
              <label className={styles.name}>
                <span>to px</span>
                <input
                  type="text"
                  inputMode="numeric"
                  aria-label="Up to this width, px"
                  value={to}
                  onChange={(e) => setTo(e.target.value)}
                />
              </label>
            </div>
            {scale.breakpoints.length > 0 && <p className={styles.hint}>The project turns at {scale.breakpoints.join(', ')} px.</p>}
          </div>
          <div data-testid="rule-writes" aria-live="polite">
            {why ? (
              <p className={styles.warn} role="alert">
                {why}
              </p>
            ) : (
              told && (
                <p className={styles.hint}>
                  It matches <b>{told.reach}</b> on this page
                  {under && (
                    <>
                      , under <code>{under}</code>
                    </>
                  )}
                  . With the {property} of now it would read:
                </p>
              )
            )}
            {!why &&
              told?.writes.ok &&
              told.writes.files.map((f) => (
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
          Cancel
        </Button>
        <Button variant="contained" disabled={!told?.writes.ok || why !== null} onClick={use}>
          Aim at it
        </Button>
      </DialogActions>
    </Dialog>
  )
}
