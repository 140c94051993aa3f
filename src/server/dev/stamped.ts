import { isJsxPath, stampTags } from '../../core/jsx'

/** The text of a file as the compiler is to get it; what cannot be read is left to the compiler to say. `path` is from the top of the project. */
export function stamped(text: string, path: string): string {
  if (!isJsxPath(path)) return text
  try {
    return stampTags(text, path)
  } catch (error) {
    if (error instanceof SyntaxError) return text
    throw error
  }
}
