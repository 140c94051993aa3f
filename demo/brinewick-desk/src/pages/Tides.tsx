import { useState } from 'react'
import { TIDES } from '../data'
import { Mark } from '../parts/Mark'

/** Styled with utility classes alone. */
export function Tides() {
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="tides flex flex-col gap-4">
      <h1 className="text-3xl font-bold text-deep">Tides at the north quay</h1>
      <p className="lead text-lg text-slate-600">Heights are in metres above chart datum.</p>
      <ul className="grid list-none gap-2 p-0">
        {TIDES.map((t) => (
          <li key={t.at} className="tide flex items-center gap-4 rounded-md bg-white p-3">
            <time className="w-16 font-semibold">{t.at}</time>
            <span>{t.height.toFixed(1)} m</span>
            <Mark tone={t.isHigh ? 'high' : 'low'} className="ml-auto">
              {t.isHigh ? 'High water' : 'Low water'}
            </Mark>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className={`advice self-start rounded-lg px-4 py-2 ${isOpen ? 'bg-deep text-white' : 'bg-white'}`}
        onClick={() => setOpen(!isOpen)}
      >
        {isOpen ? 'Hide the advice' : 'Show the advice'}
      </button>
      {isOpen && <p className="m-0">Two hours either side of low water the slip is too steep for bicycles.</p>}
    </div>
  )
}
