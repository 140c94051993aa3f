import { useEffect, useState, type ReactNode } from 'react'
import { Bookings } from './pages/Bookings'
import { Fares } from './pages/Fares'
import { Tides } from './pages/Tides'
import { Today } from './pages/Today'
import './App.css'

const ROUTES: Readonly<Record<string, { readonly title: string; readonly page: () => ReactNode }>> = {
  '/': { title: 'Today', page: Today },
  '/fares': { title: 'Fares', page: Fares },
  '/bookings': { title: 'Bookings', page: Bookings },
  '/tides': { title: 'Tides', page: Tides },
}

export function App() {
  const [path, setPath] = useState(location.pathname)
  useEffect(() => {
    const follow = () => setPath(location.pathname)
    addEventListener('popstate', follow)
    return () => removeEventListener('popstate', follow)
  }, [])
  const Page = ROUTES[path]?.page ?? Today
  return (
    <div className="desk">
      <header className="desk-head">
        <strong className="desk-name">Brinewick harbour desk</strong>
        <nav className="desk-nav" aria-label="Pages">
          {Object.entries(ROUTES).map(([to, { title }]) => (
            <a
              key={to}
              href={to}
              aria-current={to === path ? 'page' : undefined}
              onClick={(e) => {
                e.preventDefault()
                history.pushState(null, '', to)
                setPath(to)
              }}
            >
              {title}
            </a>
          ))}
        </nav>
      </header>
      <main className="desk-main">
        <Page />
      </main>
    </div>
  )
}
