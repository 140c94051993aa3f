'use client'
import { useRef, useState } from 'react'
import type { TokensToTake } from '../../desk'
import { download } from '../projects'
import { say, setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { FewOf } from './FewOf'
import { wholePage } from './whole-page'
import styles from './Theme.module.css'
import whole from './WholePanel.module.css'

const FEW = 6

/** How much of a file is read; bytes. */
const MOST = 4 * 1024 * 1024

/** The tokens as files, out and in: what a file would change is listed before it is written. */
export function TokenFiles({ hasTokens }: { readonly hasTokens: boolean }) {
  const { session } = useSession()
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  const input = useRef<HTMLInputElement>(null)
  const [given, setGiven] = useState<{ readonly name: string; readonly take: TokensToTake } | null>(null)
  const out = async (as: 'json' | 'css') => {
    const files = await wholePage(session).tokensOut()
    if (!files) return
    download(as === 'json' ? 'tokens.json' : 'tokens.css', files[as], as === 'json' ? 'application/json' : 'text/css')
    if (as === 'json' && files.left.length)
      say(
        'info',
        `Without ${files.left.slice(0, 3).join(', ')}${files.left.length > 3 ? ` and ${files.left.length - 3} more` : ''}: the format has no form for what they say.`,
      )
  }
  const read = async (file: File | undefined) => {
    if (!file) return
    if (file.size > MOST) return say('error', `${file.name} is larger than ${MOST / 1024 / 1024} MB, which no file of tokens is.`)
    const take = await wholePage(session).tokensToTake(await file.text())
    if (take) setGiven({ name: file.name, take })
  }
  return (
    <>
      {given && (
        <section className={whole.group} data-testid="token-file">
          <h3>{given.name}</h3>
          <p className={whole.said}>
            {plural(given.take.changed.length, 'token')} would change, {given.take.fresh.length} would come, {given.take.same} say the same.
          </p>
          <FewOf items={given.take.changed} few={FEW}>
            {(c) => (
              <li key={c.name} className={styles.given}>
                <button type="button" className={whole.element} onClick={() => setStudio({ source: { path: c.path, line: c.line } })}>
                  {c.name}
                </button>{' '}
                <code>
                  {c.before} → {c.after}
                </code>
              </li>
            )}
          </FewOf>
          <FewOf items={given.take.fresh} few={FEW}>
            {(f) => (
              <li key={f.name} className={styles.given}>
                <code>
                  {f.name}: {f.value}
                </code>{' '}
                <small>new</small>
              </li>
            )}
          </FewOf>
          {given.take.faults.length > 0 && (
            <FewOf items={given.take.faults} few={FEW}>
              {(fault) => (
                <li key={fault} className={styles.fault}>
                  {fault}
                </li>
              )}
            </FewOf>
          )}
        </section>
      )}
      <p className={whole.take}>
        {given ? (
          <>
            <button
              type="button"
              disabled={!given.take.intent || readOnly}
              data-testid="take-tokens"
              onClick={() =>
                void wholePage(session)
                  .takeTokens(given.take.intent!)
                  .then((done) => done && setGiven(null))
              }
            >
              Write {plural(given.take.changed.length + given.take.fresh.length, 'token')}
            </button>
            <button type="button" onClick={() => setGiven(null)}>
              Leave
            </button>
          </>
        ) : (
          <>
            <button type="button" disabled={!hasTokens} title="In the Design Tokens format" onClick={() => void out('json')}>
              Tokens as JSON
            </button>
            <button type="button" disabled={!hasTokens} onClick={() => void out('css')}>
              As CSS
            </button>
            <button type="button" disabled={readOnly} onClick={() => input.current?.click()}>
              Read a file…
            </button>
          </>
        )}
      </p>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json,.css,.tokens"
        data-testid="token-input"
        onChange={(e) => {
          void read(e.target.files?.[0])
          e.target.value = ''
        }}
      />
    </>
  )
}
