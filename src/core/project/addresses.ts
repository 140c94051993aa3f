/** Whether an address is of the project at all: not elsewhere, not made while the page runs, and not left open. */
export const isOwnAddress = (url: string): boolean => url !== '' && !/^([a-z][a-z\d+.-]*:|\/\/)|[{}<>]|\$\{/i.test(url)

/** The addresses of one image for each width or density (HTML §4.8.4.2.1). */
export const inSrcset = (value: string): string[] => value.split(/,\s+|,$/).flatMap((part) => part.trim().split(/\s+/)[0] || [])

/** The files that a server may give for a path: itself, the index of a folder, or a page without its extension. */
export const filesFor = (path: string): string[] =>
  path === '' || path.endsWith('/') ? [`${path}index.html`, `${path}index.htm`] : [path, `${path}/index.html`, `${path}.html`]
