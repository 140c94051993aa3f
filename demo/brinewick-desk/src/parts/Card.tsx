import type { ReactNode } from 'react'
import './Card.css'

interface CardProps {
  readonly title: string
  readonly tone?: 'plain' | 'strong'
  readonly note?: ReactNode
  readonly children?: ReactNode
}

/** A titled box; used on every page. */
export function Card({ title, tone = 'plain', note, children }: CardProps) {
  return (
    <section className={`card card-${tone}`}>
      <h2 className="card-title">{title}</h2>
      {children}
      {note && <p className="card-note">{note}</p>}
    </section>
  )
}
