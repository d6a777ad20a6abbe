import type { Edit, Lead, Rig } from '../api/client'
import type { Change } from '../parts/change'
import { Choice, Num, Row } from '../parts/Field'
import { Stated } from '../parts/Stated'
import { words } from '../words'
import { at, portName } from './sockets'

const w = words.bench

/** What a lead is and how it lies, set at the lead. */
export function LeadForm({ rig, lead: l, add }: { rig: Rig; lead: Lead; add: (c: Change) => void }) {
  const from = at(rig, l.from)
  const to = at(rig, l.to)
  const family = familyOf(from.port?.connector ?? to.port?.connector ?? '')
  const grades = w.grades[family] ?? []
  const path = (field: string) => `leads/${l.id}/${field}`
  const save = (c: { edits: Edit[]; what: string }) => add(c)
  const usb = family === 'usb'
  return (
    <>
      <p className="mt-1 text-sm text-muted">
        {w.ends(
          from.item?.label ?? '',
          from.port ? portName(from.port) : '',
          to.item?.label ?? '',
          to.port ? portName(to.port) : '',
        )}
      </p>
      {grades.length > 0 && (
        <Row label={w.grade}>
          <Choice
            name={w.grade}
            value={l.grade}
            options={grades}
            keep={(v) =>
              save({
                edits: [{ do: 'word', path: path('grade'), word: v }],
                what: `${w.grade}: ${grades.find((g) => g[0] === v)?.[1] ?? v}`,
              })
            }
          />
        </Row>
      )}
      <Stated name={w.length} field="leads/ID/lengthM" path={path('lengthM')} fact={l.lengthM} save={save} />
      <Stated name={w.span} field="leads/ID/spanM" path={path('spanM')} fact={l.spanM} save={save} />
      <Stated
        name={w.overWalk}
        field="leads/ID/overWalk"
        path={path('overWalk')}
        word={l.overWalk}
        save={save}
      />
      <Row label={w.adapters} hint={w.adaptersHelp}>
        <Num
          name={w.adapters}
          value={l.adapters ?? 0}
          keep={(v) =>
            save({
              edits: [{ do: 'lead', lead: l.id, adapters: v ?? 0 } as Edit],
              what: `${w.adapters}: ${v ?? 0}`,
            })
          }
        />
      </Row>
      {(l.grade === 'active' || l.grade === 'optical') && (
        <Stated
          name={w.direction}
          field="leads/ID/direction"
          path={path('direction')}
          word={l.direction}
          save={save}
        />
      )}
      {usb && <Stated name={w.gauge} field="leads/ID/awg" path={path('awg')} fact={l.awg} save={save} />}
      {usb && (
        <Stated
          name={w.contacts}
          field="leads/ID/contactsOhm"
          path={path('contactsOhm')}
          fact={l.contactsOhm}
          save={save}
        />
      )}
    </>
  )
}

function familyOf(connector: string): 'hdmi' | 'sdi' | 'usb' | 'other' {
  if (connector.startsWith('hdmi')) return 'hdmi'
  if (connector === 'bnc') return 'sdi'
  return connector.startsWith('usb') ? 'usb' : 'other'
}
