import { placeText } from '../../core/text'
import type { NodeHandle } from '../../agent/protocol'
import { base64Of, type Assistants, type Folder, type SentPicture, type SharedChoice } from '../../folder'
import { theDesk } from '../../desk'
import type { LivePage } from './live-page'
import { getStudio, say, setStudio, useStudio, type Picked } from '../store'

/** How long what is shared rests before it is sent; ms. */
const REST = 300

const MOST_WORDS = 60
const inShort = (words: string): string => (words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS)}…` : words)

/** The values that the source gives an element, and where each comes from. */
const valuesOf = ({ aims }: Picked): SharedChoice['values'] =>
  [...aims.values()].flatMap(({ property, computed, written, origin, candidates, chosen }) =>
    written === null
      ? []
      : [
          {
            property,
            computed,
            written,
            from: origin.path === null ? origin.label : `${origin.label} (${placeText(origin)})`,
            reach: candidates[chosen]?.reach ?? null,
          },
        ],
  )

/** Shows assistants what is chosen and wished for, through the server of the folder, and takes in what they say. */
export class Sharing {
  private timer: ReturnType<typeof setTimeout> | undefined
  private ends: (() => void)[] = []

  /** The elements that were shared last, in their order. */
  private shared: readonly NodeHandle[] = []

  constructor(private readonly page: LivePage) {}

  start({ assistants }: Folder): void {
    if (!assistants) return
    this.ends = [
      assistants.watch(() => void this.takeIn()),
      assistants.watchPictures(() => void this.draw(assistants)),
      useStudio.subscribe((s, before) => {
        if (
          s.picked !== before.picked ||
          s.others !== before.others ||
          s.ledger !== before.ledger ||
          s.address !== before.address ||
          s.wishRevision !== before.wishRevision
        )
          this.soon()
      }),
    ]
    this.soon()
    void this.takeIn()
  }

  stop(): void {
    clearTimeout(this.timer)
    for (const end of this.ends) end()
    this.ends = []
  }

  private soon(): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      const { picked, others, address } = getStudio()
      const all = [...(picked ? [picked] : []), ...others].filter((p) => p.report.info.source !== null)
      const chosen = all.map((p) => ({ source: p.report.info.source!, values: valuesOf(p) }))
      this.shared = all.map((p) => p.report.info.node)
      // Without the server there is nobody to show it to.
      theDesk()
        .handing.share(address, chosen)
        .catch(() => {})
    }, REST)
  }

  private async draw(assistants: Assistants): Promise<void> {
    for (const { id, index } of await assistants.wanted().catch(() => [])) {
      const node = this.shared[index]
      const picture =
        node === undefined ? null : await this.page.guard(() => this.page.ask('picture', { node, format: 'png', scale: null }))
      const sent: SentPicture = picture?.ok
        ? { ok: true, png: base64Of(picture.bytes) }
        : { ok: false, why: picture?.why ?? 'The page could not draw it.' }
      await assistants.picture(id, sent).catch(() => {})
    }
  }

  private async takeIn(): Promise<void> {
    const changed = await theDesk()
      .handing.takeInNews()
      .catch(() => [])
    if (changed.length === 0) return
    setStudio({ wishRevision: getStudio().wishRevision + 1 })
    const [first] = changed
    say(
      'info',
      `${first.state === 'done' ? `Done, says the assistant: ${inShort(first.told || first.words)}` : `Taken up by the assistant: ${inShort(first.words)}`}${changed.length > 1 ? `, and ${changed.length - 1} more` : ''}`,
    )
  }
}
