import { proxy } from 'comlink'
import { INTERFACE_ATTRIBUTE } from '../../agent/own-script'
import { OWN_PATH } from '../../live/protocol'
import { WorkerServer, type PageServer } from '../../page'
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
