import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'

/** The bytes of a file of an installed package, which stands in the nearest `node_modules` that has it. @throws Error where none has. */
export async function packageFile(path: string): Promise<Uint8Array<ArrayBuffer>> {
  for (let folder = process.cwd(); ; folder = dirname(folder)) {
    try {
      return new Uint8Array(await readFile(join(/* turbopackIgnore: true */ folder, 'node_modules', path)))
    } catch (error) {
      if (dirname(folder) === folder) throw error
    }
  }
}
