import { proxy } from 'comlink'
import { INTERFACE_ATTRIBUTE } from '../../core/html'
import { OWN_PATH } from '../../live/protocol'
import { folderOf, type FolderPlace } from '../../folder'
import { DevPageServer, WorkerServer, type PageServer } from '../../page'
import { theDesk, type Point } from '../../desk'

/** What is put into each page, so that the interface can speak with it. */
export const agentScript = (): string => `<script src="${OWN_PATH}agent.js" ${INTERFACE_ATTRIBUTE}="${location.origin}"></script>`

/** What serves the live page of a project; `template` is that of live origins. */
export const serverOf = (project: string, template: string): PageServer =>
  new WorkerServer(project, template, location.port, {
    publish: (page, rest, each) => theDesk().publishing.publish(page, rest, proxy(each)),
    mediaKey: () => theDesk().folder.mediaKey(),
  })

/** What serves another state of the project: on an origin of its own, so that what one page keeps the other does not. */
export const serverBeside = (project: string, template: string, point: Point): PageServer =>
  new WorkerServer(`${project}--beside`, template, location.port, {
    publish: async (_page, rest, each) => {
      if (!rest)
        await theDesk().points.publishPoint(
          point,
          agentScript(),
          proxy(async (files) => void (await each(files, 0, 0))),
        )
      return true
    },
    mediaKey: () => theDesk().folder.mediaKey(),
  })

/** What serves the pages of a folder's own development server, and what that is called; null where it has none. `address` is that of one that runs already. */
export async function devServerOf(
  project: string,
  template: string,
  place: FolderPlace,
  address: string | null = null,
): Promise<{ readonly server: PageServer; readonly name: string } | null> {
  const { development } = folderOf(place)
  const report = await development?.report().catch(() => null)
  if (!development || !report?.project || place.served === undefined) return null
  const server = new DevPageServer(project, template, location.port, development, () => theDesk().publishing.unsavedTexts(), address)
  return { server, name: report.project.name }
}
