import { Fragment, useEffect, useRef, useState, type ReactNode } from 'react'
import { Link, NavLink, useLocation } from 'react-router'
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

/** The screens of a rig by when they are used, in one line at every width: what does not fit is scrolled to. */
function Screens({ rig }: { rig: string }) {
  const bar = useRef<HTMLElement>(null)
  const { pathname } = useLocation()
  useEffect(() => {
    const on = bar.current?.querySelector<HTMLElement>('[aria-current=page]')
    if (on && bar.current) bar.current.scrollLeft = Math.max(0, on.offsetLeft - 80)
  }, [pathname])
  const groups = [
    {
      when: words.nav.plan,
      screens: [
        ['/show', words.nav.show],
        ['', words.nav.tether],
        ['/ports', words.nav.ports],
        ['/power', words.nav.power],
        ['/send', words.nav.send],
        ['/sound', words.nav.sound],
        ['/costs', words.nav.costs],
      ],
    },
    {
      when: words.nav.prepare,
      screens: [
        ['/look', words.nav.look],
        ['/inspect', words.nav.inspect],
        ['/rehearse', words.nav.rehearse],
        ['/run', words.nav.run],
      ],
    },
  ] as const
  return (
    <nav
      ref={bar}
      aria-label={words.nav.ofRig}
      data-testid="screens"
      className="relative flex items-baseline gap-x-4 overflow-x-auto border-b border-hair px-6 pt-1 text-sm whitespace-nowrap max-sm:px-4 print:hidden"
    >
      {groups.map((g) => (
        <Fragment key={g.when}>
          <span className="text-xs text-muted not-first:ml-3">{g.when}</span>
          {g.screens.map(([to, label]) => (
            <Screen key={to} to={`/rigs/${rig}${to}`}>
              {label}
            </Screen>
          ))}
        </Fragment>
      ))}
      <span className="ml-3 text-xs text-muted">{words.nav.after}</span>
      <Screen to={`/log?rig=${rig}`}>{words.nav.log}</Screen>
    </nav>
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
        <div className="ml-auto flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
          {actions}
          <ThemeSwitch />
        </div>
      </header>
      {rig && <Screens rig={rig} />}
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
