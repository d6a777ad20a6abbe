import type { Board, Edit } from '../api/client'
import { Row } from '../parts/Field'
import { Stated } from '../parts/Stated'
import { words } from '../words'

const w = words.show.before

type Save = (c: { edits: Edit[]; what: string }) => void

/** What people forget: the line, the computer, what destinations want besides, what has to be there in time. */
export function Before({ now, save }: { now: Board; save: Save }) {
  const { show, uplink: up = {} } = now.rig
  const host = now.rig.items.find((it) => it.gear.kind === 'computer' && it.role !== 'source')
  const off = host?.set?.undisturbed ?? {}
  const ordered = now.rig.items.filter((it) => it.owned === false || it.arrives)
  return (
    <>
      <Stated name={w.whose} field="uplink/whose" path="uplink/whose" word={up.whose} save={save} />
      {up.whose === 'venue' && (
        <Stated
          name={w.tried}
          field="uplink/triedThere"
          path="uplink/triedThere"
          word={up.triedThere}
          save={save}
        />
      )}
      {(up.whose === 'phone' || up.whose === 'limited' || up.allowanceGB !== undefined) && (
        <Stated
          name={w.allowance}
          field="uplink/allowanceGB"
          path="uplink/allowanceGB"
          fact={up.allowanceGB}
          save={save}
        />
      )}
      <Stated name={w.loss} field="uplink/lossPct" path="uplink/lossPct" fact={up.lossPct} save={save} />
      <Stated name={w.trip} field="uplink/rttMs" path="uplink/rttMs" fact={up.rttMs} save={save} />
      <Stated
        name={w.second}
        field="uplink/secondMbps"
        path="uplink/secondMbps"
        fact={up.secondMbps}
        save={save}
      />
      {host &&
        (['sleep', 'updates', 'notices'] as const).map((id) => (
          <Stated
            key={id}
            name={w.computer[id](host.label)}
            field={`items/ID/set/${id}`}
            path={`items/${host.id}/set/${id}`}
            word={off[id] ?? 'off'}
            hint={off[id] ? undefined : w.proposedOff}
            save={save}
          />
        ))}
      <Stated name={w.game} field="show/gamePct" path="show/gamePct" fact={show.gamePct} save={save} />
      {show.destinations.map((d, i) =>
        d.via ? null : (
          <div key={i}>
            {(
              [
                ['permission', d.permission, undefined],
                ['held', d.held, undefined],
                ['maxMinutes', undefined, d.ingest?.maxMinutes],
              ] as const
            ).map(([field, word, fact]) => (
              <Stated
                key={field}
                name={w.destination[field](d.name)}
                field={`show/destinations/N/${field}`}
                path={`show/destinations/${i}/${field}`}
                word={word}
                fact={fact}
                save={save}
              />
            ))}
            {(['takesLeast', 'takesAudio'] as const).map((field) => {
              const said = field === 'takesLeast' ? d.ingest?.minVideoKbps : d.ingest?.maxAudioKbps
              return (
                <Stated
                  key={field}
                  name={w.destination[field](d.name)}
                  field={`show/destinations/N/${field}`}
                  path={`show/destinations/${i}/${field}`}
                  word={said === undefined ? undefined : String(said)}
                  save={save}
                />
              )
            })}
          </div>
        ),
      )}
      <Row label={w.date} hint={w.dateHint}>
        <input
          type="date"
          className="field"
          aria-label={w.date}
          value={show.date ?? ''}
          onChange={(e) =>
            save({
              edits: [{ do: 'show', show: { ...show, date: e.target.value || undefined } }],
              what: `${w.date}: ${e.target.value || words.show.notSaid}`,
            })
          }
        />
      </Row>
      {ordered.map((it) => (
        <Row key={it.id} label={w.arrives(it.label)}>
          <input
            type="date"
            className="field"
            aria-label={w.arrives(it.label)}
            value={it.arrives ?? ''}
            onChange={(e) =>
              save({
                edits: [{ do: 'word', path: `items/${it.id}/arrives`, word: e.target.value } as Edit],
                what: `${w.arrives(it.label)}: ${e.target.value || words.show.notSaid}`,
              })
            }
          />
        </Row>
      ))}
    </>
  )
}
