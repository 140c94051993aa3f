import { openTailwind, type Tailwind } from '../src/core/utility'
import { librarySheet } from './project-vocabularies'

/** The design system of an input, without an index of its classes: it reads, compiles and names variants. @throws Error when it cannot be compiled. */
export async function unindexedTailwindOf(css: string, version: 3 | 4 = 4): Promise<Tailwind> {
  const { tailwind, notes } = await openTailwind(
    { css, path: null, target: 'out.css', linked: true, config: null, version },
    { own: () => null, library: librarySheet },
  )
  if (!tailwind) throw new Error(notes.at(-1))
  return tailwind
}

/** The design system of an input, with its index worked out. @throws Error when it cannot be compiled. */
export async function tailwindOf(css: string, version: 3 | 4 = 4): Promise<Tailwind> {
  const tailwind = await unindexedTailwindOf(css, version)
  await tailwind.buildIndex(async () => {})
  return tailwind
}
