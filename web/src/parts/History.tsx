import { useQuery } from '@tanstack/react-query'
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { api } from '../api/client'
import { keys } from '../api/keys'
import { Problems } from './Frame'
import { StateWord } from './StateWord'
import { words } from '../words'

const w = words.history

/** Every revision: who, when, what changed; each can be looked at as it was. */
export function History({
  id,
  shown,
  look,
  back,
}: {
  id: string
  shown: number
  look: (revision: number) => void
  /** Makes the rig as it was then, as a new state. */
  back?: (revision: number) => void
}) {
  const [open, setOpen] = useState(false)
  const past = useQuery({ queryKey: keys.history(id), queryFn: () => api.history(id), enabled: open })
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="quiet">{words.board.history}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-30 max-h-[80vh] w-[min(44rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-md border border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl font-semibold">{w.title}</Dialog.Title>
          <Dialog.Description className="text-sm text-muted">{w.compare}</Dialog.Description>
          {past.error && <Problems error={past.error} />}
          <ol className="mt-4 border-t border-hair">
            {past.data?.map((p, i) => (
              <li key={p.number} className="flex items-baseline gap-4 border-b border-hair py-2">
                <span className="w-6 text-right font-semibold">{p.number}</span>
                <div className="min-w-0 flex-1">
                  <p className="break-words">{p.what}</p>
                  <p className="text-sm text-muted">
                    <StateWord state={p.state} /> ·{' '}
                    {new Date(p.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })} ·{' '}
                    {w.by} {p.who}
                  </p>
                </div>
                {p.number === shown ? (
                  <span className="text-sm text-muted">{w.now}</span>
                ) : (
                  <span className="flex gap-4 text-sm">
                    <button
                      className="quiet"
                      onClick={() => {
                        look(i === 0 ? 0 : p.number)
                        setOpen(false)
                      }}
                    >
                      {w.look}
                    </button>
                    {back && i > 0 && (
                      <button
                        className="quiet"
                        aria-label={w.backTo(p.number)}
                        onClick={() => {
                          back(p.number)
                          setOpen(false)
                        }}
                      >
                        {w.back}
                      </button>
                    )}
                  </span>
                )}
              </li>
            ))}
          </ol>
          <Dialog.Close className="act mt-4">{words.list.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
