import type { MadeBy } from '../../agent/protocol'
import type { TagPlace } from '../../desk'
import { setStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'

/** The components that led to an element, and the tag that made it. */
export function Made({ made, tag }: { made: MadeBy; tag: TagPlace }) {
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
        <b>
          &lt;{made.tag}&gt;{made.count > 1 && ` ${made.index} of ${made.count}`}
        </b>
      </nav>
      {tag.ok ? (
        <button
          type="button"
          className={styles.file}
          onClick={() => setStudio({ source: { path: tag.path, line: tag.line } })}
          data-testid="made-place"
        >
          {tag.path.split('/').at(-1)}:{tag.line}
        </button>
      ) : (
        <span data-testid="made-place">its place is not known: {tag.why}</span>
      )}
      {!made.isOwn && <p>No tag of the project made this element; this is the nearest around it.</p>}
    </div>
  )
}
