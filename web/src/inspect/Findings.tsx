import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { Inspected } from './clip'

/** What was found, each with its state, what it says, what to do, and when. */
export function Findings({ of }: { of: Inspected['findings'] }) {
  return (
    <ul className="mt-2">
      {of.map((f) => (
        <li key={f.what} className="flex items-start gap-3 border-b border-hair py-2">
          <Glyph state={f.state} />
          <div className="min-w-0">
            <p>
              <StateWord state={f.state} /> <b>{words.look.names[f.what as keyof typeof words.look.names]}</b>{' '}
              {f.says}
            </p>
            {f.do && <p className="text-sm">{f.do}</p>}
            {f.spans.length > 0 && (
              <p className="text-xs text-muted tabular-nums">
                {f.spans
                  .slice(0, 6)
                  .map((s) => words.look.span(s.from, s.to))
                  .join(', ')}
                {f.spans.length > 6 && words.look.more(f.spans.length - 6)}
              </p>
            )}
          </div>
        </li>
      ))}
    </ul>
  )
}
