import { useState } from 'react'
import { CROSSINGS } from '../data'
import { Card } from '../parts/Card'
import { SeatChart } from '../parts/SeatChart'
import './Today.css'

export function Today() {
  const [called, setCalled] = useState(0)
  return (
    <>
      <h1>Crossings today</h1>
      <Card title="Seats taken" note="Counted when the boat leaves">
        <SeatChart crossings={CROSSINGS} />
      </Card>
      <ul className="crossings">
        {CROSSINGS.map((c) => (
          <li key={c.leaves} className="crossing">
            <time className="crossing-time">{c.leaves}</time>
            <span>
              {c.boat} to {c.to}
            </span>
            <span className={c.taken > c.seats * 0.9 ? 'crossing-seats is-full' : 'crossing-seats'}>{c.seats - c.taken} seats</span>
          </li>
        ))}
      </ul>
      <button type="button" className="call" onClick={() => setCalled(called + 1)}>
        Called {called} times
      </button>
    </>
  )
}
