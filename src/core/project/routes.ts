/** Folders that Next.js looks for routes in: its App Router's, and its Pages Router's. */
const APP = /^(?:src\/)?app\/(.*\/)?page\.(?:[jt]sx?|mdx?)$/
const PAGES = /^(?:src\/)?pages\/(.+)\.(?:[jt]sx?|mdx?|astro)$/

/** A part of a path that stands in no address: a group, or, of the App Router, a slot. */
const isUnseen = (part: string): boolean => /^(\(.*\)|@.*)$/.test(part)
/** What is filled in for each visit has no address of its own, and a private folder has none at all. */
const isOpen = (part: string): boolean => part.includes('[') || part.startsWith('_')

function addressOf(path: string): string | null {
  const app = APP.exec(path)
  const parts = (app ? (app[1] ?? '') : (PAGES.exec(path)?.[1] ?? null))?.split('/').filter(Boolean) ?? null
  if (parts === null || parts.some(isOpen) || (!app && parts[0] === 'api')) return null
  const shown = parts.filter((part) => !app || !isUnseen(part))
  if (!app && shown.at(-1) === 'index') shown.pop()
  return `/${shown.join('/')}`
}

/** The addresses of pages that a framework makes of these files by their names (Next.js, Astro), in order; none of what has parts to be filled in. */
export const routesOf = (paths: readonly string[]): string[] => [...new Set(paths.flatMap((path) => addressOf(path) ?? []))].sort()
