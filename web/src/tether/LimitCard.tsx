import { Link } from 'react-router'
import type { Limit } from '../api/client'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { useNumber } from '../parts/useTyped'
import { words } from '../words'
import { bounds, figure } from './figures'
import type { Change } from '../parts/change'

const w = words.hop

const senses: Record<string, string> = { 'at-most': w.atMost, 'at-least': w.atLeast, within: w.within }

/** One limit with its sum, its facts and their sources, and its caution. */
export function LimitCard({ limit: l, hold }: { limit: Limit; hold?: (h: Change) => void }) {
  return (
    <section className="mt-5" data-limit={l.id}>
      <div className="flex items-center gap-3 border-b border-hair pb-1">
        <Glyph state={l.state} room={Math.max(0, 1 - l.ratio.high)} />
        <h3 className="flex-1 font-semibold">{l.what}</h3>
        <span className="text-right">
          <StateWord state={l.state} /> {l.share}
        </span>
      </div>
      <p className="mt-1">{l.says}</p>
      {l.sense !== 'fits' && (
        <table className="mt-2 w-full text-sm">
          <caption className="sr-only">{w.sum}</caption>
          <tbody>
            {l.loads.map((ld, i) => (
              <tr key={i} className="align-top">
                <td className="py-0.5 pr-3">
                  {ld.label}
                  <span className="block text-xs text-muted">{ld.sum}</span>
                </td>
                <td className="py-0.5 text-right whitespace-nowrap">{figure(ld, l.unit, ld.est)}</td>
              </tr>
            ))}
            {l.loads.length > 1 && (
              <tr className="border-t border-hair">
                <td className="py-0.5">{w.load}</td>
                <td className="text-right whitespace-nowrap">{figure(l.load, l.unit, false)}</td>
              </tr>
            )}
            <tr className="border-t border-ink align-top">
              <td className="py-0.5 pr-3">
                {w.limit}, {senses[l.sense]}
                <span className="block text-xs text-muted">{l.limitSum}</span>
              </td>
              <td className="text-right whitespace-nowrap">{bounds(l.sure, l.possible, l.unit)}</td>
            </tr>
          </tbody>
        </table>
      )}
      {l.facts.length > 0 && (
        <>
          <h4 className="mt-2 text-xs text-muted">{w.facts}</h4>
          <ul className="text-sm">
            {l.facts.map((f, i) => (
              <FactLine key={i} fact={f} hold={hold} />
            ))}
          </ul>
        </>
      )}
      {l.dependsOn.length > 0 && (
        <p className="mt-1 text-sm text-untested">
          {w.depends}: {l.dependsOn.map((d) => d.name).join(', ')}
        </p>
      )}
      <p className="mt-1 text-xs text-muted">
        {w.rule}:{' '}
        <Link className="underline" to={`/rules#${l.rule}`}>
          {l.source.name}
        </Link>{' '}
        [{words.from[l.source.kind] ?? l.source.kind}]
      </p>
      {l.caution && (
        <p className="mt-1 border-l-4 border-taut pl-2 text-sm">
          <b>{w.caution}:</b> {l.caution}
        </p>
      )}
    </section>
  )
}

/** One fact with its bounds and its source; a number can be changed in place. */
function FactLine({ fact: f, hold }: { fact: Limit['facts'][number]; hold?: (h: Change) => void }) {
  const typed = useNumber({ unit: f.unit })
  const { text, set: setText } = typed
  const changeable = hold && f.path && !f.word && !f.options?.length && !f.path.endsWith('measuredMbps')
  return (
    <li className="flex flex-wrap items-baseline justify-between gap-x-3 border-b border-hair py-0.5">
      <span>{f.name}</span>
      <span className="text-right">
        {f.word ? `${f.word} · ` : ''}
        {f.unit || f.low || f.high ? figure(f, f.unit, f.from === 'estimate') : ''}{' '}
        <span className="text-xs text-muted">
          {words.from[f.from] ?? f.from}
          {f.at ? ` ${f.at.slice(0, 10)}` : ''}
        </span>
        {changeable && text === undefined && (
          <button
            className="quiet ml-2 text-xs"
            aria-label={`${w.edit}: ${f.name}`}
            onClick={() => setText(String(f.value))}
          >
            {w.edit}
          </button>
        )}
      </span>
      {text !== undefined && (
        <form
          className="flex w-full items-center justify-end gap-2 py-1"
          onSubmit={(e) => {
            e.preventDefault()
            void typed.read().then((value) => {
              if (value === undefined) return
              hold?.({
                edits: [{ do: 'fact', path: f.path, fact: { value, from: 'given' } }],
                what: `${f.name}: ${value} ${f.unit}`,
              })
              setText(undefined)
            })
          }}
        >
          <input
            className="field w-24 text-right"
            aria-label={f.name}
            autoFocus
            aria-invalid={!!typed.wrong}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {f.unit}
          {typed.wrong && (
            <span role="alert" className="text-snapped">
              {typed.wrong}
            </span>
          )}
          <button className="act text-xs" disabled={!text.trim()}>
            {w.save}
          </button>
        </form>
      )}
    </li>
  )
}
