import type { PickReport } from '../../agent/protocol'
import type { Evidence } from '../../core/aim'
import type { Stamp } from '../../core/html'
import { theDesk, type TagPlace } from '../../desk'
import type { Picked } from '../store'
import type { LivePage } from './live-page'

/** Which tags of components made the elements of the page; the page knows them by what was found from then on. */
export class ComponentSources {
  constructor(private readonly page: LivePage) {}

  /** What the page says of an element, with the tag that made it and the use of its component, as their files have them. */
  async of(asked: PickReport): Promise<{
    readonly report: PickReport & Pick<Evidence, 'usage' | 'madeIn'>
    readonly tag: TagPlace | null
    readonly usage: Picked['usage']
  }> {
    const { made } = asked
    const { places } = theDesk()
    const tag = made && (await places.tagAt(this.page.inProject(made.stamp), made.tag, made.isOwn ? asked.info.classes : []))
    const known = await this.withSource(asked, tag)
    const owner = made?.owners.at(-1)
    const usage = owner?.usage
      ? await Promise.all([places.tagAt(owner.usage, null, asked.info.classes), places.usagesOf(owner.name)]).then(([place, n]) => ({
          name: owner.name,
          place,
          ...n,
        }))
      : null
    const madeIn = made?.isOwn && tag?.ok && tag.source === null ? tag.path : null
    return { report: { ...known, usage: await this.usageEvidence(known, usage), madeIn }, tag, usage }
  }

  /** Has the page know the elements of a tag by its source, where that is of a component. */
  async adopt(source: string): Promise<Stamp | null> {
    const stamp = await theDesk().places.stampOf(source)
    if (stamp && this.page.here) await this.page.guard(() => this.page.ask('adopt', { source, stamp, usage: null }))
    return stamp
  }

  // The page gets to know which elements a usage of the component led to, too.
  private async usageEvidence(report: PickReport, usage: Picked['usage']): Promise<Evidence['usage']> {
    const { made } = report
    const stamp = made?.owners.at(-1)?.usage
    if (!made?.isOwn || !stamp || !usage?.place.ok || usage.place.source === null) return null
    const { source } = usage.place
    await this.page.ask('adopt', { source, stamp: made.stamp, usage: stamp })
    return { source, name: usage.name, count: made.sameUsage }
  }

  // An element that a known tag made has the source of that tag, by which the page finds it from now on.
  private async withSource(report: PickReport, tag: TagPlace | null): Promise<PickReport> {
    const { made, info } = report
    const source = made?.isOwn && tag?.ok ? tag.source : null
    if (!made || source === info.source) return report
    if (source !== null) await this.page.ask('adopt', { source, stamp: made.stamp, usage: null })
    return { ...report, info: { ...info, source }, nth: made.index - 1 }
  }
}
