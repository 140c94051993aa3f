'use client'
import { lazy, Suspense, useCallback, useEffect } from 'react'
import { nameOf } from '../aim/names'
import { setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { FewOf } from './FewOf'
import { kindColor } from './file-kinds'
import { kilobytes } from './kilobytes'
import { lastName } from './short-names'
import { SizeTable } from './SizeTable'
import { useLook } from './useLook'
import { weightOf, type LoadedWeight, type WeightOfPage } from './weight-of-page'
import { wholePage } from './whole-page'
import styles from './Weight.module.css'
import panel from './WholePanel.module.css'

const FileMap = lazy(() => import('./WeightCharts').then((m) => ({ default: m.FileMap })))
const PageBars = lazy(() => import('./WeightCharts').then((m) => ({ default: m.PageBars })))

/** Rows that are shown of a list before all are asked for. */
const FEW = 8

const sum = <T,>(items: readonly T[], of: (item: T) => number): number => items.reduce((n, item) => n + of(item), 0)

/** What the page loads, file by file, and what of that it could do without; and all pages beside one another. */
export function Weight() {
  const { session } = useSession()
  const look = useCallback(() => weightOf(wholePage(session)), [session])
  const { found, isLooking } = useLook(look, 'page')
  return (
    <div className={styles.weight}>
      {found ? (
        <PageNow {...found} />
      ) : (
        <p className={panel.said} role="status">
          {isLooking ? 'Weighing what the page loads…' : 'The page did not answer.'}
        </p>
      )}
      {found?.isDevelopment === false && <Pages />}
    </div>
  )
}

function PageNow({ files, pictures, faces, isDevelopment }: WeightOfPage) {
  const untold = files.filter((f) => f.size === 0).length
  return (
    <>
      <p className={panel.said} role="status">
        This page has loaded {plural(files.length, 'file')}: {kilobytes(sum(files, (f) => f.size))},{' '}
        {kilobytes(sum(files, (f) => f.packed))} as sent
        {isDevelopment ? ' by the development server; what a build sends is less.' : ', with text compressed by gzip.'}{' '}
        {untold > 0 && `Of ${plural(untold, 'file')} from elsewhere no size is known.`}
      </p>
      <Suspense>
        <FileMap files={files} />
      </Suspense>
      <Files files={files} />
      {pictures.length > 0 && (
        <section className={panel.group} data-testid="large-pictures">
          <h3>Pictures far larger than they are shown</h3>
          <FewOf items={pictures} few={FEW}>
            {(p) => <LargePictureRow key={p.info.node} picture={p} />}
          </FewOf>
        </section>
      )}
      {faces.length > 0 && (
        <section className={panel.group} data-testid="idle-faces">
          <h3>Faces that are loaded and that no text is drawn in</h3>
          <FewOf items={faces} few={FEW}>
            {({ url, family }) => (
              <li key={url}>
                {family}
                <span>{url}</span>
              </li>
            )}
          </FewOf>
        </section>
      )}
    </>
  )
}

function Files({ files }: { readonly files: readonly LoadedWeight[] }) {
  const rows = files.map((f) => ({ ...f, key: f.url, title: `${f.name} (${f.kind})`, name: <FileName file={f} /> }))
  return <SizeTable of="File" rows={rows} testId="weight-files" />
}

function FileName({ file: { path, name, kind, isText } }: { readonly file: LoadedWeight }) {
  return (
    <>
      <i style={{ background: kindColor(kind) }} />
      {path !== null && isText ? (
        <button type="button" onClick={() => setStudio({ source: { path, line: 1 } })}>
          {name}
        </button>
      ) : (
        (path ?? lastName(name))
      )}
    </>
  )
}

function LargePictureRow({ picture }: { readonly picture: WeightOfPage['pictures'][number] }) {
  const { session } = useSession()
  const { info, url, width, height, enough } = picture
  const chosen = useStudio((s) => s.picked?.report.info.node === info.node)
  return (
    <li data-chosen={chosen || undefined}>
      <button type="button" className={panel.element} onClick={() => void wholePage(session).choose(info.node)}>
        {nameOf(info)}
      </button>
      <span>
        {url.startsWith('data:') ? 'It' : lastName(url)} has {width} × {height} pixels; {enough.width} × {enough.height} are enough for a
        screen with two for each px.
      </span>
    </li>
  )
}

function Pages() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).pageWeights(), [session])
  const { found, isLooking } = useLook(look, 'project')
  useEffect(() => () => wholePage(session).stopWeighing(), [session])
  const pages = (found ?? []).map(({ page, files }) => ({
    key: page,
    title: page,
    name: page,
    size: sum(files, (f) => f.size),
    packed: sum(files, (f) => f.packed),
  }))
  if (!isLooking && pages.length === 0) return null
  return (
    <section className={panel.group}>
      <h3>Pages of the project</h3>
      <p className={panel.said} role="status">
        {found === null
          ? 'Reading all pages and sheets…'
          : 'By what their sources name, of a picture in several sizes one, and everything that their sheets name. What scripts load is not known.'}
      </p>
      {found && (
        <>
          <Suspense>
            <PageBars pages={found} />
          </Suspense>
          <SizeTable of="Page" rows={pages} testId="weight-of-pages" />
        </>
      )}
    </section>
  )
}
