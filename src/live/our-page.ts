const escape = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`)

/** The page that is shown where a project has no file of that path. */
export const missingPage = (path: string): string =>
  ourPage(`${path} is not in this project`, [
    'The page asked for a file that the project does not have.',
    'Check the link that led here, or open another page from the address field.',
  ])

/** A page of ours in place of a project's: what is missing and what to do. */
export function ourPage(title: string, lines: readonly string[]): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escape(title)}</title>
<style>:root{color-scheme:light dark}body{margin:0;min-height:100vh;display:grid;place-content:center;padding:2rem;background:#f4f1ea;color:#1d2b2f;font:16px/1.5 system-ui,sans-serif}
main{max-width:34rem}h1{font-size:1.25rem;margin:0 0 .5rem}p{margin:.25rem 0;color:#5c6663}code{color:#b23c26}
@media(prefers-color-scheme:dark){body{background:#161e20;color:#e6e2d8}p{color:#a3aca8}code{color:#e8836c}}</style>
<main><h1>${escape(title)}</h1>${lines.map((l) => `<p>${escape(l)}</p>`).join('')}</main></html>`
}
