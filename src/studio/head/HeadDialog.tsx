'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEffect, useState } from 'react'
import type { Head, HeadField } from '../../core/edit'
import { theDesk } from '../../desk'
import { SourceField } from '../element/SourceField'
import { pageOf } from '../session/page-facts'
import { say, setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './HeadDialog.module.css'

const ROWS: readonly (readonly [HeadField, string, string])[] = [
  ['title', 'Title', 'what tabs, bookmarks and search results call it'],
  ['lang', 'Language', 'en'],
  ['description', 'Description', 'a sentence or two for search results'],
  ['viewport', 'Viewport', 'width=device-width, initial-scale=1'],
  ['icon', 'Icon', '/img/icon.svg'],
]
const SOCIAL: readonly (readonly [HeadField, string, string])[] = [
  ['og:title', 'Title', 'as the page’s, where it is left out'],
  ['og:description', 'Description', ''],
  ['og:image', 'Picture', 'https://…'],
  ['og:type', 'Kind', 'website'],
  ['twitter:card', 'Card', 'summary_large_image'],
]

/** How many characters a search result has room for, about. */
const TITLE_ROOM = 60
const DESCRIPTION_ROOM = 155

/** What the page says of itself: written in its head, shown as a search result would. */
export function HeadDialog() {
  const { session } = useSession()
  const page = useStudio((s) => pageOf(s.address))
  const revision = useStudio((s) => s.revision)
  const [told, setTold] = useState<Head | null>(null)
  useEffect(() => {
    let current = true
    if (revision >= 0)
      void theDesk()
        .places.head(page)
        .then((h) => current && setTold(h))
    return () => {
      current = false
    }
  }, [page, revision])
  const close = () => setStudio({ head: false })
  const set = async (field: HeadField, value: string | null) => {
    const intent = await theDesk().places.headIntent(page, field, value)
    if ('ok' in intent) say('error', intent.why)
    else await session.making.onHead(intent)
  }
  const move = (index: number, by: -1 | 1) => {
    const [part, beside] = [told?.parts[index], told?.parts[index + by]]
    if (part && beside)
      void session.making.onHead({
        kind: 'move',
        sources: [part.source],
        place: { source: beside.source, where: by < 0 ? 'before' : 'after' },
      })
  }
  const row = ([field, label, placeholder]: (typeof ROWS)[number]) => (
    <div key={field} className={styles.row}>
      <span>{label}</span>
      <SourceField
        label={SOCIAL.some(([f]) => f === field) ? `Social ${label.toLowerCase()}` : label}
        value={told?.fields[field] ?? ''}
        placeholder={placeholder}
        onKeep={(v) => void set(field, v)}
      />
      {told?.fields[field] != null && field !== 'title' ? (
        <button type="button" aria-label={`Remove ${field}`} onClick={() => void set(field, null)}>
          ×
        </button>
      ) : (
        <i />
      )}
    </div>
  )
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="head-title">
      <DialogTitle id="head-title">
        Head of <code>{page}</code>
      </DialogTitle>
      <DialogContent tabIndex={0}>
        {told && (
          <div className={styles.body}>
            <div>
              {ROWS.map(row)}
              <h3>When it is shared</h3>
              {SOCIAL.map(row)}
            </div>
            <div>
              <h3 className={styles.first}>As a search result</h3>
              <Result head={told} page={page} />
              <h3>Sheets and scripts, in order</h3>
              <ol className={styles.parts}>
                {told.parts.map((p, i) => (
                  <li key={p.source}>
                    <small>{p.kind}</small> <code>{p.told}</code>
                    <button type="button" aria-label={`${p.told} earlier`} disabled={i === 0} onClick={() => move(i, -1)}>
                      ↑
                    </button>
                    <button type="button" aria-label={`${p.told} later`} disabled={i === told.parts.length - 1} onClick={() => move(i, 1)}>
                      ↓
                    </button>
                  </li>
                ))}
                {told.parts.length === 0 && <li>none</li>}
              </ol>
            </div>
          </div>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

const cut = (text: string, room: number): string =>
  text.length > room ? `${text.slice(0, text.lastIndexOf(' ', room) > room / 2 ? text.lastIndexOf(' ', room) : room)} …` : text

function Result({ head, page }: { head: Head; page: string }) {
  const title = head.fields.title ?? ''
  const description = head.fields.description ?? ''
  return (
    <div className={styles.result} data-testid="search-result">
      <small>your-site.example › {page.replace(/(^|\/)index\.html$/, '').replace(/\//g, ' › ')}</small>
      <b>{title ? cut(title, TITLE_ROOM) : 'No title: the address stands here'}</b>
      <p>{description ? cut(description, DESCRIPTION_ROOM) : 'No description: a search engine picks words of the page itself.'}</p>
      {title.length > TITLE_ROOM && (
        <em>
          The title has {title.length} characters; about {TITLE_ROOM} are shown.
        </em>
      )}
      {description.length > DESCRIPTION_ROOM && (
        <em>
          The description has {description.length} characters; about {DESCRIPTION_ROOM} are shown.
        </em>
      )}
    </div>
  )
}
