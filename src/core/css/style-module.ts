/** Whether a sheet's classes have names of its own that scripts import, by its path or as an import says it (CSS Modules). */
export const isStyleModule = (path: string): boolean => /\.module\.\w+$/i.test(path)
