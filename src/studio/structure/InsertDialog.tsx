'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEffect, useId, useState } from 'react'
import { bringsScript, embedInstead } from '../../core/html'
import type { NewFile, SourcePlace } from '../../core/edit'
import { relativeUrl } from '../../core/value'
import { nameOf } from '../aim/names'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { say, setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './InsertDialog.module.css'
import { INSERT_KINDS, NO_VALUES, type InsertKind, type InsertValues } from './insert-kinds'

/** How long typing rests before it is told where it would land; ms. */
const REST = 120

type Where = SourcePlace['where'] | 'caret'

const WHERE: readonly (readonly [SourcePlace['where'], string])[] = [
  ['before', 'Before'],
  ['after', 'After'],
  ['first', 'First inside'],
  ['last', 'Last inside'],
]

/** What to insert, with what it asks for, and where beside the selected element it goes; the HTML is shown as it will be written. */
export function InsertDialog() {
  const { session } = useSession()
  const picked = useStudio((s) => s.picked)
  const utility = useStudio((s) => s.vocabulary?.isOfFramework ?? false)
  const [kind, setKind] = useState<InsertKind>(INSERT_KINDS[0])
  const [values, setValues] = useState<InsertValues>({ ...NO_VALUES, ...INSERT_KINDS[0].start })
  const [file, setFile] = useState<NewFile | null>(null)
  const caret = useStudio((s) => (s.caret && s.caret.path === s.picked?.place?.path ? s.caret : null))
  const [where, setWhere] = useState<Where>('after')
  const [lands, setLands] = useState<Readonly<Record<string, { ok: boolean; words: string }>>>({})
  const source = picked?.report.info.source ?? null
  const home = useReading(kind.rule && picked && !utility ? `${kind.rule.stem} ${source}` : '', () =>
    kind.rule && picked && !utility ? theDesk().reading.newRuleHome(kind.rule.stem, picked.report.sheets) : null,
  )
  const html = kind.html(values, utility, home?.className ?? null)
  const rule =
    home && kind.rule ? { sheet: home.sheet, selector: `.${home.className}`, declarations: kind.rule.declarations(values) } : null
  const close = () => setStudio({ inserting: false })
  const set = (change: Partial<InsertValues>) => setValues({ ...values, ...change })

  useEffect(() => {
    let current = true
    const tell = async () => {
      if (!source) return
      const all: [Where, { ok: boolean; words: string }][] = await Promise.all(
        WHERE.map(async ([w]) => [w, await theDesk().places.tellInsert({ source, where: w }, html)]),
      )
      if (caret) all.push(['caret', await theDesk().places.insertAt(caret.path, caret.offset, html, '')])
      if (current) setLands(Object.fromEntries(all))
    }
    const timer = setTimeout(() => void tell(), REST)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [source, html, caret])

  const choose = (next: InsertKind) => {
    setKind(next)
    setValues({ ...NO_VALUES, ...next.start })
    setFile(null)
  }
  const insert = async () => {
    if (!source) return
    const adds = file ? [file] : []
    if (where === 'caret') {
      const { intent, words } = await theDesk().places.insertAt(caret!.path, caret!.offset, html, kind.name.toLowerCase())
      if (!intent) say('error', words)
      else if (await session.structure.insertWith({ ...intent, adds }, rule)) close()
      return
    }
    if (
      await session.structure.insertWith({ kind: 'insert-html', place: { source, where }, html, what: kind.name.toLowerCase(), adds }, rule)
    )
      close()
  }
  const told = lands[where]
  const missing =
    kind.asks.includes('picture') && values.address === ''
      ? 'Choose a picture, or give its address.'
      : kind.asks.includes('title') && values.text === ''
        ? 'Say what is embedded: its title is read out in its place.'
        : null
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="insert-title">
      <DialogTitle id="insert-title">
        Insert{' '}
        {picked && (
          <>
            at <code>{nameOf(picked.report.info)}</code>
          </>
        )}
      </DialogTitle>
      <DialogContent>
        <div className={styles.body}>
          <fieldset className={styles.kinds}>
            <legend>What</legend>
            {INSERT_KINDS.map((k) => (
              <button key={k.name} type="button" aria-pressed={k === kind} onClick={() => choose(k)}>
                {k.name}
              </button>
            ))}
          </fieldset>
          <div className={styles.fields}>
            <Fields kind={kind} values={values} set={set} file={file} setFile={setFile} />
            <div className={styles.where} role="group" aria-label="Where">
              {[...WHERE, ...(caret ? [['caret', 'At the caret in Source'] as const] : [])].map(([w, label]) => (
                <button
                  key={w}
                  type="button"
                  aria-pressed={where === w}
                  disabled={lands[w]?.ok === false}
                  title={lands[w]?.words}
                  onClick={() => setWhere(w)}
                >
                  {label}
                </button>
              ))}
            </div>
            <p className={styles.lands} data-testid="insert-lands">
              {told ? (told.ok ? `It lands ${told.words}.` : told.words) : ' '}
            </p>
            <pre className={styles.html} data-testid="insert-html">
              {html}
              {rule && `\n\n${rule.selector} {\n${rule.declarations.map((d) => `  ${d.name}: ${d.value};\n`).join('')}}`}
            </pre>
            {bringsScript(html) && <p className={styles.note}>It brings a script with it, which runs on the page.</p>}
            {missing && <p className={styles.note}>{missing}</p>}
          </div>
        </div>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={!source || told?.ok === false || missing !== null || html.trim() === ''}
          onClick={() => void insert()}
        >
          Insert
        </Button>
      </DialogActions>
    </Dialog>
  )
}

interface FieldsProps {
  readonly kind: InsertKind
  readonly values: InsertValues
  readonly set: (change: Partial<InsertValues>) => void
  readonly file: NewFile | null
  readonly setFile: (file: NewFile | null) => void
}

const CHOICE_WORDS: Readonly<Record<string, string>> = {
  Heading: 'level',
  List: 'kind',
  'Form field': 'type',
  'Section or landmark': 'element',
}

function Fields({ kind, values, set, file, setFile }: FieldsProps) {
  const project = useStudio((s) => s.project)
  const id = useId()
  const instead = kind.name === 'Embedded page' ? embedInstead(values.address) : null
  return (
    <>
      {kind.asks.map((asked) => {
        switch (asked) {
          case 'choice':
            return (
              <label key={asked}>
                <span>{CHOICE_WORDS[kind.name]}</span>
                <select value={values.choice} onChange={(e) => set({ choice: e.target.value })}>
                  {kind.choices!.map((c) => (
                    <option key={c}>{c}</option>
                  ))}
                </select>
              </label>
            )
          case 'text':
          case 'title':
            return (
              <label key={asked}>
                <span>{asked}</span>
                <input type="text" value={values.text} onChange={(e) => set({ text: e.target.value })} />
              </label>
            )
          case 'lines':
          case 'html':
            return (
              <label key={asked}>
                <span>{asked === 'html' ? 'HTML' : kind.name === 'List' ? 'items, a line each' : 'text'}</span>
                <textarea value={values.text} spellCheck={asked !== 'html'} onChange={(e) => set({ text: e.target.value })} />
              </label>
            )
          case 'count':
          case 'rows':
            return (
              <label key={asked}>
                <span>{asked === 'rows' ? 'rows' : kind.name === 'Table' ? 'columns' : 'boxes'}</span>
                <input
                  type="number"
                  min={1}
                  max={40}
                  value={values[asked]}
                  onChange={(e) => set({ [asked]: Math.max(1, Math.min(40, Number(e.target.value) || 1)) })}
                />
              </label>
            )
          case 'alt':
            return (
              <label key={asked}>
                <span>alt</span>
                <input
                  type="text"
                  value={values.alt}
                  placeholder="what it shows; empty for a picture that only decorates"
                  onChange={(e) => set({ alt: e.target.value })}
                />
              </label>
            )
          case 'caption':
            return (
              <label key={asked}>
                <span>caption</span>
                <input type="text" value={values.caption} placeholder="none" onChange={(e) => set({ caption: e.target.value })} />
              </label>
            )
          case 'picture':
            return <PictureField key={asked} values={values} set={set} file={file} setFile={setFile} />
          case 'address':
            return (
              <label key={asked}>
                <span>address</span>
                <input type="text" list={id} value={values.address} spellCheck={false} onChange={(e) => set({ address: e.target.value })} />
                <datalist id={id}>
                  {(project?.pages ?? []).map((p) => (
                    <option key={p} value={p} />
                  ))}
                </datalist>
              </label>
            )
        }
      })}
      {instead && (
        <p className={styles.note} data-testid="embed-note">
          This is the page a visitor watches it on, and its host refuses to be framed there.{' '}
          <button type="button" onClick={() => set({ address: instead })}>
            Use the address that is made for it
          </button>
        </p>
      )}
    </>
  )
}

/** A picture of the project, one from disk that is brought into it, or one by its address; its size is read. */
function PictureField({ values, set, file, setFile }: Omit<FieldsProps, 'kind'>) {
  const project = useStudio((s) => s.project)
  const page = useStudio((s) => s.address)
    .replace(/^\//, '')
    .replace(/[?#].*$/, '')
  const id = useId()
  const images = project?.images ?? []
  const measure = async (url: string): Promise<InsertValues['size']> => {
    const image = new Image()
    image.src = url
    try {
      await image.decode()
      return image.naturalWidth ? { width: image.naturalWidth, height: image.naturalHeight } : null
    } catch {
      return null
    }
  }
  const fromDisk = async (f: File) => {
    const folder = images[0]?.split('/').slice(0, -1).join('/') ?? 'images'
    const path = `${folder ? `${folder}/` : ''}${f.name.replace(/[^\w.-]+/g, '-')}`
    const bytes = new Uint8Array(await f.arrayBuffer())
    const url = URL.createObjectURL(f)
    const size = await measure(url)
    URL.revokeObjectURL(url)
    setFile({ path, bytes })
    set({ address: relativeUrl(page, path), size })
  }
  const choose = async (address: string) => {
    setFile(null)
    set({ address, size: null })
    const path = images.find((i) => relativeUrl(page, i) === address)
    if (!path) return
    const url = URL.createObjectURL(new Blob([(await theDesk().exports.file(path)) as BlobPart]))
    set({ address, size: await measure(url) })
    URL.revokeObjectURL(url)
  }
  return (
    <>
      <label>
        <span>picture</span>
        <input
          type="text"
          list={id}
          value={values.address}
          spellCheck={false}
          placeholder="of the project, or an address"
          onChange={(e) => void choose(e.target.value)}
        />
        <datalist id={id}>
          {images.map((p) => (
            <option key={p} value={relativeUrl(page, p)} />
          ))}
        </datalist>
      </label>
      <label>
        <span>from disk</span>
        <input type="file" accept="image/*" onChange={(e) => e.target.files?.[0] && void fromDisk(e.target.files[0])} />
      </label>
      {file && (
        <p className={styles.lands}>
          {file.path} comes into the project with it{values.size && `, ${values.size.width} × ${values.size.height} px`}.
        </p>
      )}
    </>
  )
}
