import { Button } from '@mui/material'
import { useState } from 'react'
import styles from './PageArea.module.css'
import { useSession } from './SessionContext'

/** Asks for the address of a development server that runs already; `found` are those that answer on the usual ports. */
export function ServerAddress({ found }: { found: readonly string[] }) {
  const { session } = useSession()
  const [address, setAddress] = useState(found[0] ?? 'http://localhost:5173')
  return (
    <form
      className={styles.address}
      onSubmit={(e) => {
        e.preventDefault()
        void session.showServerAt(address.trim())
      }}
    >
      <label>
        {found.length
          ? `A server that runs already; ${found.join(', ')} ${found.length === 1 ? 'answers' : 'answer'}`
          : 'A server that runs already'}
        <input type="text" value={address} list="servers-found" onChange={(e) => setAddress(e.target.value)} spellCheck={false} />
        <datalist id="servers-found">
          {found.map((a) => (
            <option key={a} value={a} />
          ))}
        </datalist>
      </label>
      <Button type="submit" variant="outlined">
        Show its page
      </Button>
    </form>
  )
}
