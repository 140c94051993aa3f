import { Button } from '@mui/material'
import { useState } from 'react'
import styles from './PageArea.module.css'
import { useSession } from './SessionContext'

/** Asks for the address of a development server that runs already. */
export function ServerAddress() {
  const { session } = useSession()
  const [address, setAddress] = useState('http://localhost:5173')
  return (
    <form
      className={styles.address}
      onSubmit={(e) => {
        e.preventDefault()
        void session.showServerAt(address.trim())
      }}
    >
      <label>
        A server that runs already
        <input type="text" value={address} onChange={(e) => setAddress(e.target.value)} spellCheck={false} />
      </label>
      <Button type="submit" variant="outlined">
        Show its page
      </Button>
    </form>
  )
}
