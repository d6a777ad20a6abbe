import { useQuery } from '@tanstack/react-query'
import { Dialog } from 'radix-ui'
import { api, type Rig, type Way } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from '../parts/Frame'
import { Glyph } from '../parts/Rope'
import { StateWord } from '../parts/StateWord'
import { words } from '../words'
import type { Change } from '../parts/change'

const w = words.ways

/** One camera by its own USB and through a capture device, side by side, with what each gives up. */
export function Ways({
  rig,
  item,
  label,
  hold,
}: {
  rig: Rig
  item: string
  label: string
  hold?: (h: Change) => void
}) {
  return (
    <Dialog.Root>
      <Dialog.Trigger className="act mt-4 text-sm">{w.open}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          className="fixed top-1/2 left-1/2 z-50 max-h-[92vh] w-[min(56rem,96vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border-2 border-ink bg-sheet p-6"
          data-testid="ways"
        >
          <div className="flex items-start justify-between gap-4">
            <Dialog.Title className="text-xl font-semibold">{w.title(label)}</Dialog.Title>
            <Dialog.Close className="act text-sm">{words.hop.close}</Dialog.Close>
          </div>
          <Dialog.Description className="mt-1 text-sm text-muted">{w.lead}</Dialog.Description>
          <Both rig={rig} item={item} hold={hold} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function Both({ rig, item, hold }: { rig: Rig; item: string; hold?: (h: Change) => void }) {
  const ask = useQuery({
    queryKey: keys.ways(item, rig),
    queryFn: () => api.ways(rig, item),
    staleTime: Infinity,
  })
  if (ask.error) return <Problems error={ask.error} />
  return (
    <div className="mt-4 grid gap-x-8 gap-y-6 sm:grid-cols-2">
      {ask.data?.map((way) => (
        <OneWay key={way.kind} way={way} hold={hold} />
      ))}
    </div>
  )
}

function OneWay({ way, hold }: { way: Way; hold?: (h: Change) => void }) {
  const row = (name: string, value?: string) =>
    value && (
      <tr className="border-b border-hair align-top">
        <th scope="row" className="py-1 pr-3 text-left font-normal text-muted">
          {name}
        </th>
        <td className="py-1">{value}</td>
      </tr>
    )
  const effort = [
    words.hop.minutes(way.minutes),
    way.cost && `~${way.cost.amount} ${way.cost.currency} ${words.hop.est}`,
  ]
  return (
    <section className="border-t-2 border-ink pt-2" data-way={way.kind}>
      <h3 className="flex items-center gap-3 font-semibold">
        {way.state && <Glyph state={way.state} />}
        {way.title}
        {way.now && <span className="text-xs font-normal text-muted">{w.now}</span>}
      </h3>
      {!way.possible && <p className="mt-2 text-sm">{w.notPossible(way.why ?? '')}</p>}
      <table className="mt-2 w-full text-sm">
        <tbody>
          {way.state && (
            <tr className="border-b border-hair">
              <th scope="row" className="py-1 pr-3 text-left font-normal text-muted">
                {w.feed}
              </th>
              <td>
                <StateWord state={way.state} />
              </td>
            </tr>
          )}
          {row(w.picture, way.picture)}
          {row(w.movement, way.movement)}
          {row(w.bus, way.bus)}
          {row(w.weakest, way.weakest)}
          {way.possible && !way.now && row(w.effort, effort.filter(Boolean).join(', '))}
          {row(w.gives, way.gives.join('; '))}
          {row(w.givesUp, way.givesUp.join('; '))}
        </tbody>
      </table>
      {hold && way.possible && !way.now && (
        <Dialog.Close
          className="act mt-3 text-sm"
          onClick={() => hold({ edits: way.edits, what: way.title })}
        >
          {words.board.try}
        </Dialog.Close>
      )}
    </section>
  )
}
