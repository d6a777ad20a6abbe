import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Failure, type Rig, type USBRead } from '../api/client'
import { keys } from '../api/keys'
import type { Change } from '../parts/change'
import { Problems } from '../parts/Frame'
import { words } from '../words'

const w = words.ports

/** Takes the sockets and plugs from the machine itself: from listings, or from the computer this runs on. */
export function ReadMachine({
  rig,
  keep,
  locked,
}: {
  rig: Rig
  keep: (c: Change) => Promise<boolean>
  locked: boolean
}) {
  const [text, setText] = useState('')
  const [over, setOver] = useState(false)
  const read = useMutation<USBRead, Error, { name: string; text: string }[] | undefined>({
    mutationFn: (texts) => (texts ? api.readUSB(rig, texts) : api.readHere(rig)),
  })
  const files = async (list: Iterable<File>) =>
    read.mutate(await Promise.all([...list].map(async (f) => ({ name: f.name, text: await f.text() }))))
  return (
    <section
      data-testid="read-machine"
      className="min-w-0 print:hidden"
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        void files(e.dataTransfer.files)
      }}
    >
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{w.read}</h2>
      <p className="mt-1 text-sm text-muted">{w.readHelp}</p>
      <textarea
        className={`field mt-2 w-full font-mono text-xs ${over ? 'bg-wash' : ''}`}
        rows={5}
        aria-label={w.listing}
        placeholder={w.listingLike}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="mt-2 flex flex-wrap items-center gap-3 text-sm">
        <button
          className="act"
          disabled={!text.trim() || read.isPending}
          onClick={() => read.mutate([{ name: w.listing, text }])}
        >
          {w.readIt}
        </button>
        <label className="act cursor-pointer focus-within:outline-2">
          {w.choose}
          <input
            type="file"
            multiple
            className="sr-only"
            aria-label={w.choose}
            onChange={(e) => {
              if (e.target.files?.length) void files(e.target.files)
              e.target.value = ''
            }}
          />
        </label>
        <button className="act" disabled={read.isPending} onClick={() => read.mutate(undefined)}>
          {w.readHere}
        </button>
        <span className="text-muted">{w.readHereHelp}</span>
      </div>
      <Commands />
      {read.error && (
        <div className="mt-3">
          <Problems error={read.error as Failure} />
        </div>
      )}
      {read.data && (
        <Reading
          read={read.data}
          locked={locked}
          take={async () => {
            if (!(await keep({ edits: read.data.plan.edits, what: w.took }))) return // the page says why
            read.reset()
            setText('')
          }}
        />
      )}
    </section>
  )
}

/** What to type on a computer that does not run Linux. */
function Commands() {
  const [open, setOpen] = useState(false)
  const { data } = useQuery({ queryKey: keys.reportCommands(), queryFn: api.reportCommands, enabled: open })
  return (
    <details className="mt-2 text-sm" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer">{w.reports}</summary>
      <p className="mt-1 text-muted">{w.reportsHelp}</p>
      {data?.map((c) => (
        <pre key={c} className="mt-1 bg-wash p-2 text-xs break-all whitespace-pre-wrap select-all">
          {c}
        </pre>
      ))}
    </details>
  )
}

function Reading({ read, take, locked }: { read: USBRead; take: () => Promise<void>; locked: boolean }) {
  const { usb, here, plan } = read
  return (
    <div className="mt-3 border-l-2 border-ink pl-3 text-sm" data-testid="reading">
      <p className="font-semibold">{w.devices(usb.devices.length)}</p>
      {usb.problems.length > 0 && (
        <div role="alert" className="text-taut">
          {w.partial}
          <ul className="list-disc pl-5">
            {usb.problems.map((p, i) => (
              <li key={i} className="break-words">
                {p.file}
                {p.line > 0 && ` ${w.line} ${p.line}`}: {p.text}
              </li>
            ))}
          </ul>
        </div>
      )}
      <List title={w.found} lines={plan.found} />
      <List title={w.added} lines={plan.added} />
      <List title={w.left} lines={plan.left} />
      {here && (
        <List
          title={w.captures}
          lines={here.captures.map((c) => (c.video ? `${c.name} (${c.video}, ${c.path})` : c.name))}
        />
      )}
      {here && (
        <List
          title={w.displays}
          lines={here.displays.map((d) => `${d.output}: ${d.reading.maker} ${d.reading.name}`)}
        />
      )}
      {here?.machine && <List title={w.machine} lines={here.machine.says} />}
      <List title={w.tells} lines={plan.tells} />
      {plan.edits.length > 0 ? (
        <button className="act mt-2" disabled={locked} onClick={() => void take()}>
          {w.take}
        </button>
      ) : (
        <p className="mt-2">{w.nothingNew}</p>
      )}
    </div>
  )
}

function List({ title, lines }: { title: string; lines: string[] }) {
  if (!lines.length) return null
  return (
    <div className="mt-1">
      <p className="text-muted">{title}</p>
      <ul className="list-disc pl-5">
        {lines.map((l, i) => (
          <li key={i} className="break-words">
            {l}
          </li>
        ))}
      </ul>
    </div>
  )
}
