import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join, relative, sep } from 'node:path'
import { Project } from '../src/core/project'
import {
  classTokens,
  LearnedVocabulary,
  openTailwind,
  readConfig,
  setVocabularies,
  type Tailwind,
  tailwindInput,
  type Vocabulary,
} from '../src/core/utility'

const HOME = dirname(createRequire(import.meta.url).resolve('tailwindcss/package.json'))

/** A style sheet of the installed Tailwind CSS package. */
export const librarySheet = async (name: string): Promise<string> => readFileSync(join(HOME, name), 'utf8')

export interface ProjectFolder {
  readonly project: Project
  readonly tailwind: Tailwind | null
  readonly vocabularies: readonly Vocabulary[]
  readonly notes: readonly string[]
  /** The version of Tailwind CSS that it is set up for, and what its config file writes out. */
  readonly version: 3 | 4
  readonly config: object
}

/** The project in a folder with the utility classes it is styled with, as the application opens it. */
export async function openFolder(dir: string): Promise<ProjectFolder> {
  const paths = readdirSync(dir, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .map((e) => relative(dir, join(e.parentPath, e.name)).split(sep).join('/'))
    .filter((p) => !p.split('/').includes('node_modules'))
    .sort()
  const project = new Project(
    paths
      .filter((p) => /\.(html?|css)$/i.test(p))
      .map((path, i) => ({ key: i + 1, path, bytes: new Uint8Array(readFileSync(join(dir, path))) })),
  )
  const own = (path: string) =>
    project.has(path) ? project.text(path) : paths.includes(path) ? readFileSync(join(dir, path), 'utf8') : null
  const input = tailwindInput(project, paths)
  const { tailwind, notes } = input ? await openTailwind(input, { own, library: librarySheet }) : { tailwind: null, notes: [] }
  if (tailwind && input) {
    await tailwind.buildIndex(async () => {})
    project.setGenerated(
      input.target,
      tailwind.compile(project.pages().flatMap((p) => [...classTokens(project.text(p))])),
      input.path ?? 'the classes in use',
    )
  }
  const learned = LearnedVocabulary.of(project)
  const vocabularies = [...(tailwind ? [tailwind] : []), ...(learned ? [learned] : [])]
  setVocabularies(project, vocabularies)
  const configText = input?.config ? own(input.config) : null
  return {
    project,
    tailwind,
    vocabularies,
    notes,
    version: input?.version ?? 4,
    config: configText === null ? {} : readConfig(configText).config,
  }
}
