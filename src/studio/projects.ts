import { ImportError, unpackFiles } from '../folder'
import { Database } from '../storage/db'
import { createProject } from '../storage/projects'

export const db = new Database()

export interface ImportProgress {
  readonly text: string
  readonly share: number
}

export interface ImportRun {
  readonly signal: AbortSignal
  readonly onProgress: (p: ImportProgress) => void
}

/** The project of a folder that the server of this machine opened; undefined where that is opened for the first time. */
export const projectOfServed = async (path: string): Promise<string | undefined> =>
  (await db.folders.filter((row) => row.served === path).first())?.project

const EMPTY_PAGE = `<!DOCTYPE html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <meta name="viewport" content="width=device-width, initial-scale=1">
  <title>New page</title>
  <link rel="stylesheet" href="style.css">
</head>
<body>
  <main>
    <h1>New page</h1>
  </main>
</body>
</html>
`

/** Adds a project of one page and one sheet. */
export function addEmpty(): Promise<string> {
  const bytes = (text: string) => new TextEncoder().encode(text)
  return createProject(db, 'New page', [
    { path: 'index.html', bytes: bytes(EMPTY_PAGE) },
    { path: 'style.css', bytes: bytes('body {\n  margin: 0;\n}\n') },
  ])
}

/** The sample projects, by their folder. */
export const SAMPLES = { brinewick: 'Brinewick Ferry', 'brinewick-crew': 'Brinewick crew' } as const
export type Sample = keyof typeof SAMPLES

/** Adds a sample project. */
export async function addDemo(sample: Sample = 'brinewick'): Promise<string> {
  const answer = await fetch(`/demo/${sample}`)
  if (!answer.ok) throw new ImportError('The sample project could not be read from the server.')
  const [list, ...files] = unpackFiles(new Uint8Array(await answer.arrayBuffer()))
  const paths = JSON.parse(new TextDecoder().decode(list!)) as string[]
  return createProject(
    db,
    SAMPLES[sample],
    paths.map((path, i) => ({ path, bytes: files[i] })),
  )
}

/** Gives a file to the person. */
export function download(name: string, body: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([body], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 60_000)
}
