import type { ReactNode } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import { words } from '../words'

const w = words.broke

/**
 * What breaks in here breaks nothing else: it says what happened and offers to draw it again, and whatever stands
 * outside (a change that is held, a text somebody types) stays.
 */
export function Safe({
  what,
  again,
  close,
  around = (said) => said,
  children,
}: {
  /** What it is, in words: "the board". */
  what: string
  /** When one of these changes, it is tried again by itself. */
  again?: unknown[]
  /** Leaves it, where that is possible. */
  close?: () => void
  /** What the message stands in. */
  around?: (said: ReactNode) => ReactNode
  children: ReactNode
}) {
  return (
    <ErrorBoundary
      resetKeys={again}
      fallbackRender={({ error, resetErrorBoundary }) =>
        around(
          <div role="alert" className="my-4 max-w-4xl border-l-4 border-snapped pl-4" data-testid="broke">
            <p className="font-semibold text-snapped">{w.title(what)}</p>
            <p className="mt-1">{w.stays}</p>
            <p className="mt-1 text-sm break-words text-muted">
              {w.happened} {error instanceof Error ? error.message : String(error)}
            </p>
            <p className="mt-3 flex flex-wrap gap-3">
              <button className="act" onClick={resetErrorBoundary}>
                {w.again}
              </button>
              <button className="act" onClick={() => location.reload()}>
                {w.reload}
              </button>
              {close && (
                <button className="act" onClick={close}>
                  {w.close}
                </button>
              )}
            </p>
          </div>,
        )
      }
    >
      {children}
    </ErrorBoundary>
  )
}
