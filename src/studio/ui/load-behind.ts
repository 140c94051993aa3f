/** Loads what is asked for by a press: so it is there at once, and also where the server is not any more. */
export async function loadBehind(): Promise<void> {
  await Promise.allSettled([
    import('./ProjectMenu'),
    import('./PagesMenu'),
    import('./ExportMenu'),
    import('../structure/ElementMenu'),
    import('../structure/InsertDialog'),
    import('../keeping/ProjectDialogs'),
    import('./ImportDialog'),
    import('../importing'),
    import('./KeySheet'),
  ])
}
