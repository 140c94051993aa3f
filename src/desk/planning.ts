/** What plans edits and tells where they can land, most of the core: the first page shows without it, and it is loaded behind that. */
export const planning = () => import('./planning-parts')
