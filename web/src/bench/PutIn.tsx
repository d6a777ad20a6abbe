import type { Act, Rig } from '../api/client'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { Picker } from './Picker'
import { useAct } from './useAct'

/** Something of the shelf put into a rig: the shelf while it is open, and why what was picked could not be put in. */
export function PutIn(p: {
  rig: Rig
  add: (c: Change) => void
  act?: Act
  kinds?: readonly string[]
  title: string
  open: boolean
  close: () => void
}) {
  const act = useAct(p.rig, p.add)
  return (
    <>
      {act.error && <Problems error={act.error} />}
      {p.open && (
        <div className="mt-2">
          <Picker
            rig={p.rig}
            act={p.act ?? { do: 'more' }}
            kinds={p.kinds}
            title={p.title}
            pick={(a) => {
              p.close()
              act.do(a)
            }}
            close={p.close}
            busy={act.busy}
          />
        </div>
      )}
    </>
  )
}
