import { AlertDialog } from 'radix-ui'
import { words } from '../words'

/** A button that asks before it does what others see at once. */
export function Sure(p: { ask: string; what: string; yes: string; main?: boolean; go: () => void }) {
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger className={`act min-h-14 px-6 text-lg ${p.main ? 'act-main' : ''}`}>
        {p.yes}
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <AlertDialog.Content className="fixed top-1/3 left-1/2 z-50 w-[min(30rem,calc(100vw-2rem))] -translate-x-1/2 border-2 border-ink bg-sheet p-5">
          <AlertDialog.Title className="text-lg font-semibold">{p.ask}</AlertDialog.Title>
          <AlertDialog.Description className="mt-1">{p.what}</AlertDialog.Description>
          <p className="mt-4 flex flex-wrap gap-3">
            <AlertDialog.Action className="act act-main min-h-11" onClick={p.go}>
              {p.yes}
            </AlertDialog.Action>
            <AlertDialog.Cancel className="act min-h-11">{words.night.notYet}</AlertDialog.Cancel>
          </p>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  )
}
