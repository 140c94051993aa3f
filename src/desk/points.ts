import type { JournalEdit } from '../core/edit'
import { loadLanguages } from '../core/language'
import { Project } from '../core/project'
import { createPatch } from '../core/text'
import type { PublishedFile } from '../live/protocol'
import { inBatches, publishedFile } from './batches'
import type { OpenProject } from './open-project'
import type { Publishing } from './publishing'

/** A state of the project: as after so many edits of the current take, or as another take has it. */
export type Point = { readonly count: number } | { readonly take: string }

/** The project as it was, or as another take has it. */
export class Points {
  constructor(
    private readonly current: OpenProject,
    private readonly publishing: Publishing,
  ) {}

  async takeEdits(id: string): Promise<readonly JournalEdit[]> {
    const row = await this.current.db.takes.get([this.current.id, id])
    if (!row) throw new Error('That take is gone.')
    return row.edits.slice(0, row.done)
  }

  async projectAt(point: Point): Promise<{ project: Project; adds: Map<string, Uint8Array> }> {
    const edits = 'count' in point ? this.current.journal.edits.slice(0, point.count) : await this.takeEdits(point.take)
    const files = await this.current.db.files
      .where('[project+key]')
      .between([this.current.id, -Infinity], [this.current.id, Infinity])
      .toArray()
    await loadLanguages(files.map((f) => f.path))
    const project = new Project(files)
    const adds = new Map(this.current.others)
    for (const e of edits) {
      for (const c of e.changes) project.apply(c.path, c.splices)
      for (const f of e.adds ?? []) adds.set(f.path, f.bytes)
    }
    return { project, adds }
  }

  /** Files of another state of the project, for a page beside the one shown. */
  async publishPoint(point: Point, script: string, each: (files: PublishedFile[]) => Promise<void>): Promise<void> {
    const { paths, fileOf } = await this.filesAt(point, script)
    await inBatches(paths, 200, fileOf, async (files) => {
      await each(files)
      return true
    })
  }

  /** Of such files, those that the folder does not have so, with a page. */
  async givenAt(point: Point, script: string, page: string): Promise<PublishedFile[]> {
    const { project, paths, fileOf } = await this.filesAt(point, script)
    const isOnDisk = (path: string) =>
      path !== page && project.has(path) && this.current.folder?.has(path) && project.text(path) === this.current.folder.text(path)
    return paths.filter((path) => !isOnDisk(path)).map(fileOf)
  }

  /** A page of another state of the project; null where it has none of that path. */
  async pageAt(point: Point, script: string, path: string): Promise<PublishedFile[] | null> {
    const { project, fileOf } = await this.filesAt(point, script)
    return project.has(path) ? [fileOf(path)] : null
  }

  private async filesAt(point: Point, script: string) {
    const { project, adds } = await this.projectAt(point)
    // Classes that only that state has are compiled with those of the current one.
    this.publishing.compile(project.pages().map((p) => project.text(p).replace(/["'<>=]/g, ' ')))
    const compiled = this.current.vocabularies?.target
    const bodyOf = (path: string) =>
      path === compiled
        ? this.current.project.published(path, '')
        : project.has(path)
          ? project.published(path, script + (this.current.vocabularies?.head ?? ''))
          : adds.get(path)!
    return {
      project,
      paths: [...new Set([...project.writtenPaths(), ...adds.keys(), ...(compiled ? [compiled] : [])])],
      fileOf: (path: string) => publishedFile(path, bodyOf(path)),
    }
  }

  /** What differs from another state of the project to the current one, as a patch. */
  async difference(point: Point): Promise<string> {
    const { project } = await this.projectAt(point)
    const paths = this.current.project.writtenPaths().filter((p) => project.has(p) && project.text(p) !== this.current.project.text(p))
    return createPatch(
      paths.map((path) => ({
        path,
        before: project.text(path),
        after: this.current.project.text(path),
        bom: this.current.project.hasBom(path),
      })),
    )
  }
}
