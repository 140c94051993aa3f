import { proxy } from 'comlink'
import { INTERFACE_ATTRIBUTE } from '../../core/html'
import { OWN_PATH } from '../../live/protocol'
import { folderOf, type FolderPlace, type ServedPages } from '../../folder'
import { DevPageServer, FolderPageServer, WorkerServer, type PageServer, type RunningServer } from '../../page'
import type { FolderRow } from '../../storage/db'
import { db } from '../projects'
import { theDesk, type Point } from '../../desk'

/** What is put into each page, so that the interface can speak with it. */
export const agentScript = (): string => `<script src="${OWN_PATH}agent.js" ${INTERFACE_ATTRIBUTE}="${location.origin}"></script>`

/** What serves the live page of a project; `template` is that of live origins. */
export const serverOf = (project: string, template: string): PageServer =>
  new WorkerServer(project, template, location.port, {
    publish: (page, rest, each) => theDesk().publishing.publish(page, rest, proxy(each)),
  })

/** A folder whose live pages a server of this machine has, and the name of their host. */
export interface ServedProject {
  readonly name: string
  readonly pages: ServedPages
}

/** The same of a project's folder; null where no server has its pages now. */
export async function servedProject(place: FolderRow): Promise<ServedProject | null> {
  const folder = folderOf(place)
  const { pages } = folder
  if (!pages || (await folder.access()) !== 'granted') return null
  const token = place.token ?? [...crypto.getRandomValues(new Uint8Array(10))].map((byte) => (byte % 36).toString(36)).join('')
  if (place.token === undefined) await db.folders.update(place.project, { token })
  // A host name's label has 63 characters at most (RFC 1035 §2.3.4).
  return { name: `${place.project.slice(0, 40)}--${token}`, pages }
}

/** What serves the live page of such a project. */
export const folderServerOf = (template: string, { name, pages }: ServedProject): PageServer =>
  new FolderPageServer(name, template, location.port, pages, {
    given: (page) => theDesk().publishing.given(page),
    page: (path) => theDesk().publishing.page(path),
  })

/** What serves another state of the project: on an origin of its own, so that what one page keeps the other does not. */
export function serverBeside(project: string, template: string, served: ServedProject | null, point: Point): PageServer {
  if (served)
    return new FolderPageServer(`${served.name}--beside`, template, location.port, served.pages, {
      given: (page) => theDesk().points.givenAt(point, agentScript(), page),
      page: (path) => theDesk().points.pageAt(point, agentScript(), path),
    })
  return new WorkerServer(`${project}--beside`, template, location.port, {
    publish: async (_page, rest, each) => {
      if (!rest)
        await theDesk().points.publishPoint(
          point,
          agentScript(),
          proxy(async (files) => void (await each(files, 0, 0))),
        )
      return true
    },
  })
}

/** What serves the pages of a folder's own development server, and what that is called; null where it has none. `running` is one that runs already. */
export async function devServerOf(
  project: string,
  template: string,
  place: FolderPlace,
  running: RunningServer | null = null,
): Promise<{ readonly server: PageServer; readonly name: string } | null> {
  const { development } = folderOf(place)
  const report = await development?.report().catch(() => null)
  if (!development || !report?.project || place.served === undefined) return null
  const server = new DevPageServer(project, template, location.port, development, () => theDesk().publishing.unsavedTexts(), running)
  return { server, name: report.project.name }
}
