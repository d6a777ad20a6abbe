import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Board, type Costing, type Edit, type Failure, shoppingAddress } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Choice, Price } from '../parts/Field'
import { Problems } from '../parts/Frame'
import { money, type Money } from '../parts/money'
import { Glyph } from '../parts/Rope'
import { RigPage } from '../parts/RigPage'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'

import { Habits } from './Habits'

const w = words.costs

/** What the rig costs, what is to be bought, what a cure costs, and another rig beside it. */
export function CostsPage() {
  const [other, setOther] = useState('')
  return (
    <RigPage title={w.title} line={(now) => <Line now={now} other={other} />}>
      {(now, save) => <Costs now={now} save={save.mutate} other={other} setOther={setOther} />}
    </RigPage>
  )
}

const useCosts = (now: Board, other: string) =>
  useQuery({
    queryKey: keys.costs(now.id, now.revision, other),
    queryFn: () => api.costs(now.id, other || undefined),
    placeholderData: (was) => was,
  })

function Line({ now, other }: { now: Board; other: string }) {
  const { data } = useCosts(now, other)
  if (!data) return words.board.loading
  return (
    <>
      <b>{w.settled}</b> {data.totals.map((t) => w.total(money(t.all))).join(' ') || w.noPrice}
      {data.unpriced.length > 0 && (
        <>
          {' '}
          <b>{w.next}</b> {w.unpriced(data.unpriced.length)}
        </>
      )}
    </>
  )
}

function Costs({
  now,
  save,
  other,
  setOther,
}: {
  now: Board
  save: (c: Change) => void
  other: string
  setOther: (id: string) => void
}) {
  const { data, error } = useCosts(now, other)
  if (error && !data) return <Problems error={error as Failure} />
  if (!data) return <p role="status">{words.board.loading}</p>
  const currency = now.rig.show.budget?.currency ?? 'EUR'
  const word = (item: string, field: string, v: string, what: string) =>
    save({ edits: [{ do: 'word', path: `items/${item}/${field}`, word: v } as Edit], what })
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-2">
      <section className="min-w-0">
        <h2 className="flex items-baseline justify-between border-b border-ink pb-1 text-lg font-semibold">
          {w.things}
          <a className="quiet text-sm font-normal" href={shoppingAddress(now.id)} download>
            {w.list}
          </a>
        </h2>
        <table className="w-full text-sm">
          <thead className="sr-only">
            <tr>
              <th>{w.what}</th>
              <th>{w.owned['owned']}</th>
              <th>{w.price}</th>
            </tr>
          </thead>
          <tbody>
            {data.lines.map((l) => (
              <tr key={l.item} className="border-b border-hair">
                <td className="py-1 pr-3">
                  {l.label} {l.name !== l.label && <span className="text-muted">{l.name}</span>}
                </td>
                <td className="pr-3 whitespace-nowrap">
                  <Choice
                    name={`${w.whose} ${l.label}`}
                    value={l.owned}
                    disabled={now.frozen}
                    options={
                      Object.entries(w.owned).filter(([v]) => v !== 'not-said' || l.owned === v) as [
                        typeof l.owned,
                        string,
                      ][]
                    }
                    keep={(v) => word(l.item, 'owned', v, `${l.label}: ${w.owned[v]}`)}
                  />
                </td>
                <td className="text-right whitespace-nowrap tabular-nums">
                  <Price
                    name={`${w.price} ${l.label}`}
                    value={l.shelf ? undefined : l.price}
                    currency={currency}
                    disabled={now.frozen}
                    placeholder={l.shelf ? w.byShelf(money(l.price)) : w.pricePlace(currency)}
                    width={l.shelf ? 'w-52 max-sm:w-32' : 'w-32'}
                    keep={(m) =>
                      word(
                        l.item,
                        'price',
                        m ? `${m.amount} ${m.currency}` : '',
                        `${w.price} ${l.label}: ${m ? money(m) : w.none}`,
                      )
                    }
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <div className="min-w-0 space-y-8">
        <Totals data={data} />
        <Cures data={data} />
        <Beside now={now} data={data} other={other} setOther={setOther} />
      </div>
      <Habits now={now} keep={save} />
    </div>
  )
}

function Totals({ data }: { data: Costing }) {
  return (
    <section data-testid="totals">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.totals}</h2>
      {data.totals.length === 0 && <p className="py-2 text-sm text-muted">{w.noPriceHelp}</p>}
      {data.totals.map((t) => (
        <dl key={t.currency} className="mt-1 grid grid-cols-[1fr_auto] text-sm">
          {(
            [
              [w.all, t.all],
              [w.owned['owned'], t.owned],
              [w.owned['to-buy'], t.toBuy],
              [w.owned['not-said'], t.notSaid],
              [w.borrowed, Number(t.borrowed.amount) > 0 ? t.borrowed : undefined],
              [w.angle, t.angle],
              [w.buysCures, t.proposed],
              [w.withAll, t.with],
              [w.left, t.left],
              [w.short, t.short],
            ] as [string, Money | undefined][]
          )
            .filter(([, m]) => m)
            .map(([name, m]) => (
              <div key={name} className="contents">
                <dt className="border-b border-hair py-1">{name}</dt>
                <dd
                  className={`border-b border-hair py-1 text-right tabular-nums ${name === w.all ? 'font-semibold' : ''} ${name === w.short ? 'text-snapped' : ''}`}
                >
                  {money(m)}
                </dd>
              </div>
            ))}
        </dl>
      ))}
      {data.unbought.length > 0 && (
        <p className="mt-1 text-sm text-muted">
          {w.unbought}: {data.unbought.join(', ')}.
        </p>
      )}
    </section>
  )
}

function Cures({ data }: { data: Costing }) {
  return (
    <section data-testid="cures">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.cures}</h2>
      {data.cures.length === 0 && <p className="mt-1 text-sm text-muted">{w.noCures}</p>}
      {data.cures.length > 0 && <p className="text-sm text-muted">{w.curesHelp}</p>}
      {data.all && (
        <p className="mt-1 flex gap-3 border-b border-hair py-1">
          <span className="flex-1">
            <b>{w.mendsAll}:</b> {data.all.moves.join('; ')}
          </span>
          <span className="text-right whitespace-nowrap tabular-nums">
            {data.all.cost.amount === '0.00' ? w.nothing : `~${money(data.all.cost)}`}
            <span className="block text-sm text-muted">
              {data.all.minutes} {w.min}
            </span>
          </span>
        </p>
      )}
      <ul>
        {data.cures.map((c, i) => (
          <li key={i} className="flex gap-3 border-b border-hair py-1 text-sm">
            <Glyph state={c.state} />
            <span className="min-w-0 flex-1">
              {c.what}: {c.move}
            </span>
            <span className="text-right whitespace-nowrap tabular-nums">
              {c.cost ? `~${money(c.cost)}` : w.nothing}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Beside(p: { now: Board; data: Costing; other: string; setOther: (id: string) => void }) {
  const rigs = useQuery({ queryKey: keys.rigs, queryFn: () => api.rigs() })
  const sides = p.data.there ? [p.data.here, p.data.there] : []
  const rows: [string, (s: Costing['here']) => React.ReactNode][] = [
    [w.rows.verdict, (s) => <StateWord state={s.state} />],
    [w.rows.picture, (s) => s.picture.map((line) => <p key={line}>{line}</p>)],
    [w.rows.cost, (s) => s.totals.map((t) => money(t.with ?? t.all)).join(', ') || '–'],
    [w.rows.plugs, (s) => s.plugs],
    [w.rows.angles, (s) => s.angles],
    [w.rows.worst, (s) => (s.worst ? `${s.worst} ${Math.round(s.room * 100)} %` : '–')],
    [w.rows.setUp, (s) => `~${Math.round(s.setUp)} ${w.min}`],
    [w.rows.flaws, (s) => s.flaws],
    [w.rows.unknown, (s) => s.unknown],
    [
      w.rows.cannot,
      (s) => (s.cannot.length ? s.cannot.map((line) => <p key={line}>{line}</p>) : w.rows.nothing),
    ],
  ]
  return (
    <section data-testid="beside">
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.beside}</h2>
      <select
        className="field mt-2 max-w-full"
        aria-label={w.choose}
        value={p.other}
        onChange={(e) => p.setOther(e.target.value)}
      >
        <option value="">{w.choose}</option>
        {rigs.data
          ?.filter((r) => r.id !== p.now.id)
          .map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
      </select>
      {sides.length > 0 && (
        <table className="mt-2 w-full text-sm">
          <thead className="text-left">
            <tr>
              <td />
              {sides.map((s, i) => (
                <th key={i} className="pb-1 pl-3">
                  {s.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, say]) => (
              <tr key={name} className="border-t border-hair align-top">
                <th className="py-1 text-left font-normal text-muted">{name}</th>
                {sides.map((s, i) => (
                  <td key={i} className="py-1 pl-3">
                    {say(s)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
