'use client'
import { useState } from 'react'
import type { PictureFormat } from '../../agent/protocol'
import { nameOf } from '../aim/names'
import { download } from '../projects'
import { say, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { kilobytes } from './kilobytes'
import { wholePage } from './whole-page'
import styles from './WholePanel.module.css'

const SCALES = [1, 2, 3]
const FORMATS: readonly (readonly [format: PictureFormat, words: string])[] = [
  ['png', 'PNG'],
  ['webp', 'WebP'],
]

/** A picture of the chosen element or of all of the page, as it shows now, to a file or to the clipboard. */
export function Picture() {
  const { session } = useSession()
  const chosen = useStudio((s) => s.picked?.report.info ?? null)
  const project = useStudio((s) => s.project?.name ?? 'page')
  const [wanted, setWanted] = useState<'element' | 'page'>('page')
  const [scale, setScale] = useState(2)
  const [format, setFormat] = useState<PictureFormat>('png')
  const [isDrawing, setIsDrawing] = useState(false)
  const of = wanted === 'element' && chosen ? 'element' : 'page'
  const draw = async (as: PictureFormat, use: (picture: Blob, words: string) => Promise<void>) => {
    setIsDrawing(true)
    try {
      const picture = await wholePage(session).picture(of, as, scale)
      if (typeof picture === 'string') return say('error', picture)
      const [width, height] = [picture.width, picture.height].map((n) => Math.round(n * picture.scale))
      const smaller = picture.scale < scale ? `, smaller than asked for: it would have too many pixels` : ''
      await use(
        new Blob([picture.bytes as BlobPart], { type: `image/${as}` }),
        `${width} × ${height} pixels, ${kilobytes(picture.bytes.length)}${smaller}`,
      )
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error))
    } finally {
      setIsDrawing(false)
    }
  }
  const save = () =>
    draw(format, async (picture, words) => {
      download(`${project}-${of === 'page' ? 'page' : nameOf(chosen!).replace(/[^\w-]+/g, '-')}.${format}`, picture, picture.type)
      say('info', `The picture is saved: ${words}.`)
    })
  // What a clipboard takes is PNG (Clipboard API and events §3.5).
  const copy = () =>
    draw('png', async (picture, words) => {
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': picture })])
      say('info', `The picture is copied: ${words}.`)
    })
  return (
    <form
      className={styles.picture}
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <p className={styles.said}>
        Drawn by the page itself as it shows now, with what is not saved. Frames of other sites, and what the browser lets nobody read, stay
        empty.
      </p>
      <fieldset>
        <legend>Of</legend>
        <label>
          <input type="radio" name="of" checked={of === 'page'} onChange={() => setWanted('page')} /> the whole page, at its full height
        </label>
        <label>
          <input type="radio" name="of" checked={of === 'element'} disabled={!chosen} onChange={() => setWanted('element')} />{' '}
          {chosen ? <code>{nameOf(chosen)}</code> : 'the chosen element'}, without what lies behind it
        </label>
      </fieldset>
      <fieldset>
        <legend>Pixels for each px</legend>
        {SCALES.map((s) => (
          <label key={s}>
            <input type="radio" name="scale" checked={scale === s} onChange={() => setScale(s)} /> {s}
          </label>
        ))}
      </fieldset>
      <fieldset>
        <legend>As</legend>
        {FORMATS.map(([f, words]) => (
          <label key={f}>
            <input type="radio" name="format" checked={format === f} onChange={() => setFormat(f)} /> {words}
          </label>
        ))}
      </fieldset>
      <p className={styles.take}>
        <button type="submit" disabled={isDrawing}>
          {isDrawing ? 'Drawing…' : 'Save the picture'}
        </button>
        <button type="button" disabled={isDrawing} onClick={() => void copy()}>
          Copy it as PNG
        </button>
      </p>
    </form>
  )
}
