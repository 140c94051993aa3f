import { access, constants, realpath, stat } from 'node:fs/promises'
import { homedir } from 'node:os'
import { parse, resolve } from 'node:path'
import { parseArgs } from 'node:util'

/** What cannot be started, in a sentence. */
export class StartError extends Error {
  override readonly name = 'StartError'
}

export interface Options {
  /** The real path of the folder to open; null for none. */
  readonly folder: string | null
  /** The one port to take; null for the first that is free. */
  readonly port: number | null
  /** Whether the address is opened in a browser. */
  readonly opens: boolean
}

export const USAGE = `Usage: steady-brush [folder] [--port N] [--no-open]

  folder      the folder of a site to open; without it, projects are brought in through the window
  --port N    the port to listen on, on this machine alone
  --no-open   only prints the address`

const CAUSES: Readonly<Record<string, string>> = {
  ENOENT: 'is not there',
  ENOTDIR: 'is not there',
  EACCES: 'may not be read',
  ELOOP: 'is a link that leads to itself',
  ENAMETOOLONG: 'has too long a name',
}

/** @throws StartError when it is no folder to open. */
async function folderAt(given: string, from: string): Promise<string> {
  const path = resolve(from, given)
  let real: string
  try {
    real = await realpath(path)
    if (!(await stat(real)).isDirectory()) throw new StartError(`${path} is a file. Give the folder that it stands in.`)
    await access(real, constants.R_OK | constants.X_OK)
  } catch (error) {
    if (error instanceof StartError) throw error
    const { code = '' } = error as NodeJS.ErrnoException
    throw new StartError(`${path} ${CAUSES[code] ?? `cannot be opened (${code})`}.`)
  }
  if (real === parse(real).root) throw new StartError(`${real} is a whole disk. Give the folder of one site.`)
  if (real === (await realpath(homedir()).catch(() => homedir())))
    throw new StartError(`${real} is your home folder. Give the folder of one site.`)
  return real
}

/** Reads the command line, with paths from the folder `from`. @throws StartError when it asks for something that cannot be started. */
export async function readOptions(
  args: readonly string[],
  from: string,
  env: Readonly<Record<string, string | undefined>>,
): Promise<Options> {
  let parsed
  try {
    parsed = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { port: { type: 'string' }, 'no-open': { type: 'boolean' } },
    })
  } catch (error) {
    throw new StartError(`${error instanceof Error ? error.message.split('. ')[0] : String(error)}.\n\n${USAGE}`)
  }
  const { positionals, values } = parsed
  if (positionals.length > 1) throw new StartError(`One folder is opened at a time, and ${positionals.length} are given.\n\n${USAGE}`)
  const wanted = values.port ?? env.PORT
  const port = wanted === undefined ? null : Number(wanted)
  if (port !== null && !(Number.isInteger(port) && port > 0 && port < 65_536))
    throw new StartError(`${JSON.stringify(wanted)} is no port: it is a whole number from 1 to 65535.`)
  return {
    folder: positionals[0] === undefined ? null : await folderAt(positionals[0], from),
    port,
    opens: values['no-open'] !== true,
  }
}
