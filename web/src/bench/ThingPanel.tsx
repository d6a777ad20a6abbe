import { Dialog } from 'radix-ui'
import type { Rig } from '../api/client'
import type { Change } from '../parts/change'
import { Safe } from '../parts/Safe'
import { words } from '../words'
import { Thing } from './Thing'

const w = words.bench

/** A thing beside the tethers, opened. */
export function ThingPanel(p: {
  rig: Rig
  item: string
  close: () => void
  add?: (c: Change) => void
  held: boolean
}) {
  const item = p.rig.items.find((i) => i.id === p.item)
  if (!item) return null
  return (
    <Dialog.Root open modal={false} onOpenChange={(o) => !o && p.close()}>
      <Dialog.Portal>
        <Dialog.Content
          className="fixed top-[49px] right-0 bottom-0 z-20 w-[min(27rem,100vw)] overflow-y-auto border-l-2 border-ink bg-sheet p-5 pb-32 shadow-[-8px_0_24px_rgb(0_0_0/0.12)]"
          onInteractOutside={(e) => e.preventDefault()}
          onEscapeKeyDown={(e) => p.held && e.preventDefault()}
          data-testid="thing-panel"
        >
          <div className="flex items-start justify-between gap-4">
            <div>
              <p className="text-xs text-muted">{w.kind(item.gear.kind)}</p>
              <Dialog.Title className="text-xl font-semibold">{item.label}</Dialog.Title>
              <Dialog.Description className="text-sm text-muted">{item.gear.name}</Dialog.Description>
            </div>
            <Dialog.Close className="act text-sm">{words.hop.close}</Dialog.Close>
          </div>
          <Safe what={words.broke.hop} again={[p.item, p.rig]}>
            {p.add ? <Thing key={item.id} rig={p.rig} item={item} add={p.add} gone={p.close} /> : null}
          </Safe>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
