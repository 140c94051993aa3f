import { useRef, useState, type FormEvent } from 'react'
import { CROSSINGS } from '../data'
import { Card } from '../parts/Card'
import './Bookings.css'

export function Bookings() {
  const dialog = useRef<HTMLDialogElement>(null)
  const [booked, setBooked] = useState<readonly string[]>([])
  const [fault, setFault] = useState<string | null>(null)
  const book = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault()
    const form = new FormData(e.currentTarget)
    const name = String(form.get('name')).trim()
    if (name === '') return setFault('Who is it for?')
    setFault(null)
    setBooked([...booked, `${name}, ${String(form.get('crossing'))}`])
    dialog.current?.close()
  }
  return (
    <>
      <h1>Bookings</h1>
      <Card title="Booked today" note={`${booked.length} so far`}>
        <ol className="booked">
          {booked.map((b) => (
            <li key={b}>{b}</li>
          ))}
        </ol>
        <button type="button" onClick={() => dialog.current?.showModal()}>
          Book a seat
        </button>
      </Card>
      <dialog ref={dialog} className="booking">
        <form onSubmit={book} noValidate>
          <h2>Book a seat</h2>
          <label className="field">
            Name
            <input name="name" />
          </label>
          <label className="field">
            Crossing
            <select name="crossing">
              {CROSSINGS.map((c) => (
                <option key={c.leaves}>{c.leaves}</option>
              ))}
            </select>
          </label>
          {fault && (
            <p className="fault" role="alert">
              {fault}
            </p>
          )}
          <button type="submit">Book</button>
        </form>
      </dialog>
    </>
  )
}
