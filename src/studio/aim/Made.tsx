import { placeText } from '../../core/text'
import type { MadeBy } from '../../agent/protocol'
import type { TagPlace } from '../../desk'
import { setStudio, type Picked } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'

function Place({ of, testId }: { of: TagPlace; testId: string }) {
  return of.ok ? (
    <button
      type="button"
      className={styles.file}
      title={placeText(of)}
      onClick={() => setStudio({ source: { path: of.path, line: of.line } })}
      data-testid={testId}
    >
      {placeText({ path: of.path.split('/').at(-1)!, line: of.line })}
    </button>
  ) : (
    <span data-testid={testId}>its place is not known: {of.why}</span>
  )
}

/** The components that led to an element, the tag that made it, and where the last of the components is used. */
export function Made({ made, tag, usage }: { made: MadeBy; tag: TagPlace; usage: Picked['usage'] }) {
  const { session } = useSession()
  return (
    <div className={styles.made} data-testid="made">
      <nav aria-label="Components">
        {made.owners.map(({ name, node }, i) => (
          <span key={i}>
            <button type="button" disabled={node === null} onClick={() => node !== null && void session.selection.pick(node)}>
              {name}
            </button>
            <i aria-hidden="true"> › </i>
          </span>
        ))}
        {tag.ok && tag.component !== null && (
          <span>
            {tag.component}
            <i aria-hidden="true"> › </i>
          </span>
        )}
        <b>
          &lt;{made.tag}&gt;{made.count > 1 && ` ${made.index} of ${made.count}`}
        </b>
      </nav>
      <Place of={tag} testId="made-place" />
      {usage && (
        <p data-testid="usage">
          <span>
            this <code>{usage.name}</code>
            {usage.tags > 1 && `, one of ${plural(usage.tags, 'usage')} in ${plural(usage.files, 'file')}`}
          </span>
          <Place of={usage.place} testId="usage-place" />
        </p>
      )}
      {!made.isOwn && <p>No tag of the project made this element; this is the nearest around it.</p>}
    </div>
  )
}
