import { say } from '../store'

/** Puts a text on the clipboard and says so. */
export async function copy(text: Promise<string> | string, what: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(await text)
    say('info', `${what}: copied.`)
  } catch (error) {
    say('error', `${what} could not be copied (${error instanceof Error ? error.message : String(error)}).`)
  }
}
