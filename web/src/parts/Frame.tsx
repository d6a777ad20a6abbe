import { useEffect, useState, type ReactNode } from 'react'
import { Link, NavLink } from 'react-router'
import { words } from '../words'

function theme() {
  return document.documentElement.dataset.theme === 'dark' ? 'dark' : 'light'
}

function ThemeSwitch() {
  const [now, setNow] = useState<'light' | 'dark'>(theme)
  const other = now === 'light' ? 'dark' : 'light'
  return (
    <button
      className="quiet"
      aria-label={`${words.theme.label}: ${words.theme[other]}`}
      onClick={() => {
        document.documentElement.dataset.theme = other
        localStorage.setItem('theme', other)
        setNow(other)
      }}
    >
      {words.theme[other]}
    </button>
  )
}

/** Asks the server whether the database answers, while something went wrong, and says so meanwhile. */
function useAway(): string | undefined {
  const [away, setAway] = useState<string>()
  useEffect(() => {
    let stopped = false
    let timer: ReturnType<typeof setTimeout>
    const look = async () => {
      let next: string | undefined
      try {
        const r = await fetch('/healthz', { cache: 'no-store' })
        next = r.ok ? undefined : words.away
      } catch {
        next = words.awayServer
      }
      if (stopped) return
      setAway((was) => {
        if (was && !next) window.dispatchEvent(new Event('back'))
        return next
      })
      timer = setTimeout(look, next ? 1500 : 10000)
    }
    const soon = () => {
      clearTimeout(timer)
      void look()
    }
    void look()
    window.addEventListener('away', soon)
    return () => {
      stopped = true
      clearTimeout(timer)
      window.removeEventListener('away', soon)
    }
  }, [])
  return away
}

/** A way to another screen; the one that is open is underlined in ink. */
function Screen({ to, children }: { to: string; children: ReactNode }) {
  return (
    <NavLink
      to={to}
      end
      className={({ isActive }) =>
        isActive ? 'border-b-2 border-ink font-semibold' : 'border-b-2 border-transparent hover:border-hair'
      }
    >
      {children}
    </NavLink>
  )
}

/** The page around every screen. */
export function Frame({
  title,
  actions,
  rig,
  children,
}: {
  /** The rig whose screens are offered. */
  rig?: string
  title?: ReactNode
  actions?: ReactNode
  children: ReactNode
}) {
  const away = useAway()
  return (
    <>
      <header
        className="flex min-h-12 flex-wrap items-center gap-x-5 gap-y-1 border-b border-hair px-6 py-2 max-sm:px-4 print:hidden"
        data-testid="bar"
      >
        <Link to="/" className="flex items-center gap-2 font-semibold tracking-tight">
          <svg width="28" height="18" viewBox="0 0 28 18" aria-hidden="true">
            <path d="M3 4c3.5 13 18.5 13 22 0" className="rope" strokeWidth="2.4" />
            <circle cx="3" cy="4" r="2.6" fill="var(--ink)" />
            <circle cx="25" cy="4" r="2.6" fill="var(--snapped)" />
          </svg>
          {words.product}
        </Link>
        <nav aria-label={words.nav.screens} className="flex gap-4 text-sm">
          <Screen to="/">{words.nav.rigs}</Screen>
          <Screen to="/shelf">{words.nav.shelf}</Screen>
          <Screen to="/log">{words.nav.log}</Screen>
        </nav>
        {title && <div className="min-w-0 max-sm:order-last max-sm:basis-full">{title}</div>}
        {rig && (
          <nav
            aria-label={words.nav.ofRig}
            className="flex flex-wrap gap-x-4 gap-y-1 text-sm max-xl:order-last max-xl:basis-full"
          >
            <Screen to={`/rigs/${rig}/show`}>{words.nav.show}</Screen>
            <Screen to={`/rigs/${rig}`}>{words.nav.tether}</Screen>
            <Screen to={`/rigs/${rig}/ports`}>{words.nav.ports}</Screen>
            <Screen to={`/rigs/${rig}/power`}>{words.nav.power}</Screen>
            <Screen to={`/rigs/${rig}/send`}>{words.nav.send}</Screen>
            <Screen to={`/rigs/${rig}/sound`}>{words.nav.sound}</Screen>
            <Screen to={`/rigs/${rig}/run`}>{words.nav.run}</Screen>
            <Screen to={`/rigs/${rig}/costs`}>{words.nav.costs}</Screen>
          </nav>
        )}
        <div className="ml-auto flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
          {actions}
          <ThemeSwitch />
        </div>
      </header>
      {away && (
        <p
          role="status"
          data-testid="away"
          className="border-b border-snapped bg-wash px-6 py-2 text-snapped"
        >
          {away}
        </p>
      )}
      {children}
    </>
  )
}

/** A failure with every problem by place. */
export function Problems({
  error,
}: {
  error: { message: string; problems?: { place: string; text: string }[] }
}) {
  return (
    <div role="alert" className="max-w-4xl">
      <p className="font-semibold text-snapped">{error.message}</p>
      {!!error.problems?.length && (
        <ul className="mt-2 space-y-1 text-sm">
          {error.problems.map((p, i) => (
            <li key={i} className="break-words">
              {p.place && <span className="font-semibold">{p.place}: </span>}
              {p.text}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
