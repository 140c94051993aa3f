import { proxy, type ProxyMarked } from 'comlink'
import { Changes } from './changes'
import { Editing } from './editing'
import type { LaterServices } from './later-services'
import { onceLoaded, type OnceLoaded } from './once-loaded'
import { OpenProject } from './open-project'
import { Opening } from './opening'
import { PageSync } from './page-sync'
import { planning } from './planning'
import { Publishing } from './publishing'

/** The worker's services, put together around one open project. Each is called by its own name from the window. */
export class Desk {
  readonly current = proxy(new OpenProject())
  readonly publishing = proxy(new Publishing(this.current))
  readonly pageSync = proxy(
    new PageSync(
      () => this.current.project,
      (path) => this.current.savedText(path),
    ),
  )
  readonly changes = proxy(new Changes(this.current, this.publishing, this.pageSync))
  readonly opening = proxy(new Opening(this.current, this.publishing, this.changes))
  private readonly editor = new Editing(this.current, this.publishing, this.changes)
  readonly editing = this.whenWhole(async () => this.editor)
  readonly places = this.ofWhole('places')
  readonly reading = this.ofWhole('reading')
  readonly themes = this.ofWhole('themes')
  readonly weights = this.ofWhole('weights')
  readonly history = this.ofWhole('history')
  readonly points = this.ofWhole('points')
  readonly takes = this.ofWhole('takes')
  readonly folder = this.service('folder')
  readonly saving = this.ofWhole('saving')
  readonly exports = this.ofWhole('exports')
  readonly sinceCommit = this.ofWhole('sinceCommit')
  readonly git = this.service('git')
  readonly handing = this.service('handing')

  /** Loads what no page needs in order to show, before it is asked for. */
  async prepare(): Promise<void> {
    await Promise.all([planning(), this.later()])
  }

  private loaded: Promise<LaterServices> | null = null

  private later(): Promise<LaterServices> {
    return (this.loaded ??= import('./later-services').then(({ laterServices }) =>
      laterServices(this.current, this.publishing, this.pageSync, this.changes),
    ))
  }

  private service<Name extends keyof LaterServices>(name: Name): OnceLoaded<LaterServices[Name]> & ProxyMarked {
    return proxy(onceLoaded(async () => (await this.later())[name]))
  }

  private ofWhole<Name extends keyof LaterServices>(name: Name): OnceLoaded<LaterServices[Name]> & ProxyMarked {
    return this.whenWhole(async () => (await this.later())[name])
  }

  // What it says and changes is not to be of a part of the project.
  private whenWhole<Service extends object>(load: () => Promise<Service>): OnceLoaded<Service> & ProxyMarked {
    return proxy(
      onceLoaded(async () => {
        await this.current.whole
        return load()
      }),
    )
  }
}
