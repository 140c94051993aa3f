import type { SyncOp } from '../agent/protocol'
import { cutBodies, isPreprocessed, isStyleModule, withSourceNames } from '../core/css'
import { readClassList } from '../core/utility'
import type { PublishedFile } from '../live/protocol'
import { inBatches, publishedFile } from './batches'
import type { OpenProject } from './open-project'

/** A source as a list of all that could be a class in it. */
export const tokensOf = (text: string): string => text.replace(/["'`<>={}]/g, ' ')

/** The files of the project as the live origin is given them, with the sheet that is compiled from its classes. */
export class Publishing {
  constructor(private readonly current: OpenProject) {}

  script = ''

  /** Whether the live origin has an older compiled sheet. */
  compiledAgain = false

  publishedFile(path: string): PublishedFile {
    // The project's own server compiles its sheets from the sources.
    if (isPreprocessed(path) || (this.current.vocabularies?.isServed && path === this.current.vocabularies.target))
      return publishedFile(path, this.current.project.text(path))
    const body =
      this.current.project.has(path) || path === this.current.vocabularies?.target
        ? this.current.project.published(path, this.script + (this.current.vocabularies?.head ?? ''))
        : this.current.others.get(path)!
    return publishedFile(path, body)
  }

  /** The texts that have edits which are not saved. */
  unsavedTexts(): { readonly path: string; readonly text: string }[] {
    return this.current
      .changedPaths()
      .filter((path) => this.current.project.has(path))
      .map((path) => ({ path, text: this.current.project.text(path) }))
  }

  published(path: string): string {
    const { body } = this.publishedFile(path)
    return typeof body === 'string' ? body : new TextDecoder().decode(body)
  }

  /**
   * Files for the live origin, in batches that a message can carry: first the page that is to be shown and all that
   * pages ask for, or, as `rest`, the other pages. `each` says whether to go on; false where it did not.
   */
  async publish(
    shown: string,
    rest: boolean,
    each: (files: PublishedFile[], done: number, of: number) => Promise<boolean>,
  ): Promise<boolean> {
    const pages = this.current.project.pages()
    // Pages that the shown one names may stand in its frames, so they cannot wait.
    const text = pages.includes(shown) ? this.current.project.text(shown) : ''
    const first = new Set(pages.filter((p) => p === shown || text.includes(p.split('/').at(-1)!)))
    const paths = rest
      ? pages.filter((p) => !first.has(p))
      : [
          ...new Set([
            ...first,
            ...this.current.project.sheetPaths(),
            ...this.current.project.textPaths(),
            ...this.current.others.keys(),
            ...(this.current.vocabularies?.target ? [this.current.vocabularies.target] : []),
          ]),
        ]
    if (
      !(await inBatches(
        paths,
        rest ? 10 : 200,
        (path) => this.publishedFile(path),
        (files, done) => each(files, done, paths.length),
      ))
    )
      return false
    // While the engine reads long sheets, they are taken apart here too.
    if (!rest)
      setTimeout(() => {
        for (const { sheet } of this.current.project.allSheets()) if (sheet.isLong) void sheet.statements
      })
    return true
  }

  /** Files that the folder does not have so, the compiled sheet, and a page. */
  async given(page: string): Promise<PublishedFile[]> {
    const { project, vocabularies } = this.current
    await this.readPage(page)
    const target = vocabularies?.target
    return [...new Set([...(project.has(page) ? [page] : []), ...this.current.changedPaths(), ...(target ? [target] : [])])].map((path) =>
      this.publishedFile(path),
    )
  }

  /** A page, with the compiled sheet where it is another for it; null where the project has none of that path. */
  async page(path: string): Promise<PublishedFile[] | null> {
    const isOther = await this.readPage(path)
    if (!this.current.project.has(path)) return null
    const target = this.current.vocabularies?.target
    return [...(isOther && target ? [target] : []), path].map((p) => this.publishedFile(p))
  }

  // A page that was not read yet, with the sheets that it names; whether the compiled sheet is another for its classes.
  private async readPage(path: string): Promise<boolean> {
    const { project, unread } = this.current
    if (unread.isWhole) return false
    await unread.readNow([path])
    const text = project.has(path) ? project.text(path) : ''
    await unread.readNow(project.sheetPaths().filter((sheet) => text.includes(sheet.split('/').at(-1)!)))
    return this.compile([tokensOf(text)])
  }

  /** Takes sheets that the project's own server compiled, by their files, for what the page has. */
  useServed(sheets: readonly { readonly path: string; readonly text: string }[]): void {
    for (const { path, text } of sheets)
      if (isPreprocessed(path)) {
        const source = isStyleModule(path) ? this.current.readText(path) : null
        this.current.project.setGenerated(path, source === null ? text : withSourceNames(text, source), path)
      } else if (this.current.project.has(path)) this.current.vocabularies?.useServed(path, text)
  }

  /** What such a sheet lacks for classes that are not saved. */
  unsavedClasses(): SyncOp[] {
    return this.compile(this.unsavedTexts().map(({ text }) => tokensOf(text))) ? this.compiledSheet() : []
  }

  compile(lists: readonly string[]): boolean {
    const isOther = this.current.vocabularies?.compile(lists.flatMap((list) => readClassList(list).map((c) => c.name))) ?? false
    this.compiledAgain ||= isOther
    return isOther
  }

  compiledSheet(): SyncOp[] {
    const key = this.current.vocabularies?.target
    if (!key) return []
    const { sheet } = this.current.project.sheet(key)!
    return [{ op: 'sheet', sheet: key, text: sheet.text, outline: this.current.project.outline(key), bodies: cutBodies(sheet.statements) }]
  }
}
