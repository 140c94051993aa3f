/** A path of a URL with its percent signs decoded (URL §1.3); as it stands where they are malformed. */
export function decodePath(path: string): string {
  try {
    return decodeURIComponent(path)
  } catch {
    return path
  }
}

/** Whether a text is a path of a file as a script imports it: relative, or by a bundler's name for a folder. */
export const isModulePath = (value: string): boolean => /^(\.{1,2}|[@~#])\//.test(value)

/** The file of the project that a URL written in the file `from` names, by its path from the root; null for one that is elsewhere, or is no URL. */
export function fileNamed(url: string, from: string): string | null {
  try {
    const { host, pathname } = new URL(url, `http://project/${from}`)
    return host === 'project' ? decodePath(pathname.slice(1)) : null
  } catch {
    return null
  }
}
