import { useMutation, useQuery } from '@tanstack/react-query'
import { RadioGroup } from 'radix-ui'
import { useId, useState, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, type Start } from '../api/client'
import { keys } from '../api/keys'
import { Frame, Problems } from '../parts/Frame'
import { measureHere } from '../parts/measuring'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'

const w = words.start
type Kind = Start['sources'][number]['kind']
const kinds = Object.keys(w.kinds) as Kind[]

/** Three answers, and the rig is judged. */
export function StartRig() {
  useTitle(w.title)
  const go = useNavigate()
  const [counts, setCounts] = useState<Record<Kind, number>>({
    camera: 1,
    webcam: 0,
    phone: 0,
    slides: 0,
    console: 0,
  })
  const [height, setHeight] = useState('1080')
  const [fps, setFps] = useState('30')
  const [minutes, setMinutes] = useState('60')
  const [computer, setComputer] = useState('laptop')
  const [name, setName] = useState('')
  const [things, setThings] = useState<Record<string, number>>({})
  const [goesTo, setGoesTo] = useState<NonNullable<Start['for']>>('stream')
  const [destination, setDestination] = useState('')
  const [mains, setMains] = useState('')
  const offered = useQuery({ queryKey: keys.startKinds, queryFn: api.startKinds, staleTime: Infinity })
  const known = useQuery({ queryKey: keys.destinations, queryFn: api.destinations, staleTime: Infinity })
  const more = (of: string) => (offered.data ?? []).filter((k) => k.of === of)
  const any = kinds.some((k) => counts[k] > 0) || more('sources').some((k) => (things[k.entry] ?? 0) > 0)
  const make = useMutation({
    mutationFn: () =>
      api.start({
        name: name.trim() || undefined,
        sources: kinds.map((kind) => ({ kind, count: counts[kind] })),
        out: {
          height: Number(height) as Start['out']['height'],
          fps: Number(fps) as Start['out']['fps'],
          minutes: Number(minutes),
        },
        computer,
        things: Object.entries(things)
          .filter(([, count]) => count > 0)
          .map(([entry, count]) => ({ entry, count })),
        for: goesTo,
        destination: (goesTo === 'stream' || goesTo === 'page') && destination ? destination : undefined,
        mainsHz: mains ? (Number(mains) as 50 | 60) : undefined,
      }),
    onSuccess: (b) => {
      if (computer === 'here') measureHere(b)
      void go(`/rigs/${b.id}`)
    },
  })
  return (
    <Frame>
      <main className="mx-auto max-w-5xl px-6 py-8 max-sm:px-4">
        <h1 className="text-3xl font-semibold tracking-tight">{w.title}</h1>
        <p className="mt-1 max-w-2xl text-muted">{w.lead}</p>
        <form
          className="mt-8 grid gap-x-12 gap-y-8 md:grid-cols-3"
          onSubmit={(e) => {
            e.preventDefault()
            if (any) make.mutate()
          }}
        >
          <Part title={w.sources}>
            {kinds.map((k) => (
              <Count
                key={k}
                name={w.kinds[k]}
                value={counts[k]}
                set={(n) => setCounts({ ...counts, [k]: n })}
              />
            ))}
            {(['sources', 'between', 'sound'] as const).map((of) => (
              <details key={of} className="mt-2">
                <summary className="cursor-pointer py-1 text-sm">{w.folds[of]}</summary>
                {more(of).map((k) => (
                  <Count
                    key={k.entry}
                    name={k.name}
                    value={things[k.entry] ?? 0}
                    set={(n) => setThings({ ...things, [k.entry]: n })}
                  />
                ))}
              </details>
            ))}
          </Part>
          <Part title={w.out}>
            <Choice
              label={w.height}
              value={height}
              set={setHeight}
              options={w.heights}
              order={['720', '1080', '2160']}
            />
            <Choice
              label={w.fps}
              value={fps}
              set={setFps}
              options={{}}
              order={['24', '25', '30', '50', '60']}
              row
            />
            <label className="mt-4 block">
              <span className="text-sm text-muted">{w.minutes}</span>
              <input
                className="field mt-1 block w-28 text-right"
                inputMode="numeric"
                type="number"
                min={1}
                max={10080}
                required
                value={minutes}
                onChange={(e) => setMinutes(e.target.value)}
              />
            </label>
            <label className="mt-4 block">
              <span className="text-sm text-muted">{w.for}</span>
              <select
                className="field mt-1 block w-full"
                value={goesTo}
                onChange={(e) => setGoesTo(e.target.value as NonNullable<Start['for']>)}
              >
                {Object.entries(w.fors).map(([v, label]) => (
                  <option key={v} value={v}>
                    {label}
                  </option>
                ))}
              </select>
            </label>
            {(goesTo === 'stream' || goesTo === 'page') && (
              <label className="mt-3 block">
                <span className="text-sm text-muted">{w.destination}</span>
                <select
                  className="field mt-1 block w-full"
                  value={destination}
                  onChange={(e) => setDestination(e.target.value)}
                >
                  <option value="">{w.anyDestination}</option>
                  {known.data
                    ?.filter((d) => !d.own)
                    .map((d) => (
                      <option key={d.name} value={d.name}>
                        {d.name}
                      </option>
                    ))}
                </select>
              </label>
            )}
            <label className="mt-3 block">
              <span className="text-sm text-muted">{w.mains}</span>
              <select className="field mt-1 block" value={mains} onChange={(e) => setMains(e.target.value)}>
                <option value="">{w.mainsByRate}</option>
                <option value="50">50 Hz</option>
                <option value="60">60 Hz</option>
              </select>
            </label>
            <p className="mt-2 text-xs text-muted">{w.rateMeans[Number(fps) as keyof typeof w.rateMeans]}</p>
          </Part>
          <Part title={w.computer}>
            <Choice
              label=""
              value={computer}
              set={setComputer}
              options={w.computers}
              order={['laptop', 'desktop', 'here']}
            />
            {computer === 'here' && <p className="mt-1 text-xs text-muted">{w.hereMeans}</p>}
            <details className="mt-2">
              <summary className="cursor-pointer py-1 text-sm">{w.folds.computer}</summary>
              <Choice
                label=""
                value={computer}
                set={setComputer}
                options={Object.fromEntries(more('computer').map((k) => [k.entry, k.name]))}
                order={more('computer').map((k) => k.entry)}
              />
            </details>
            <label className="mt-6 block">
              <span className="text-sm text-muted">{w.name}</span>
              <input
                className="field mt-1 block w-full"
                maxLength={120}
                placeholder={w.namePlaceholder}
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            <button className="act act-main mt-6 w-full py-2" disabled={!any || make.isPending}>
              {w.go}
            </button>
            {!any && <p className="mt-2 text-sm text-muted">{w.needSource}</p>}
            {make.error && (
              <div className="mt-4">
                <Problems error={make.error} />
              </div>
            )}
          </Part>
        </form>
        <Link to="/" className="quiet mt-10 inline-block text-sm">
          {w.back}
        </Link>
      </main>
    </Frame>
  )
}

/** So many of one kind. */
function Count({ name, value, set }: { name: string; value: number; set: (n: number) => void }) {
  const id = useId()
  return (
    <div className="flex items-center justify-between gap-3 border-b border-hair py-2">
      <span id={id}>{name}</span>
      <span className="flex items-center gap-2">
        <Step label={`${w.less}: ${name}`} off={value === 0} go={() => set(value - 1)}>
          −
        </Step>
        <output className="w-6 text-center font-semibold" aria-labelledby={id}>
          {value}
        </output>
        <Step label={`${w.more}: ${name}`} off={value >= 12} go={() => set(value + 1)}>
          +
        </Step>
      </span>
    </div>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="min-w-0">
      <legend className="mb-3 text-lg font-semibold">{title}</legend>
      {children}
    </fieldset>
  )
}

function Step({
  label,
  off,
  go,
  children,
}: {
  label: string
  off: boolean
  go: () => void
  children: ReactNode
}) {
  return (
    <button type="button" className="act h-8 w-8 !p-0" aria-label={label} disabled={off} onClick={go}>
      {children}
    </button>
  )
}

function Choice(props: {
  label: string
  value: string
  set: (v: string) => void
  options: Record<string, string>
  order: string[]
  row?: boolean
}) {
  return (
    <RadioGroup.Root
      value={props.value}
      onValueChange={props.set}
      aria-label={props.label || w.computer}
      className="mt-4 first:mt-0"
    >
      {props.label && <p className="mb-1 text-sm text-muted">{props.label}</p>}
      <div className={props.row ? 'flex flex-wrap gap-2' : 'grid gap-2'}>
        {props.order.map((v) => (
          <RadioGroup.Item
            key={v}
            value={v}
            className="act text-left data-[state=checked]:border-ink data-[state=checked]:bg-ink data-[state=checked]:text-paper data-[state=unchecked]:border-hair"
          >
            {props.options[v] ?? v}
          </RadioGroup.Item>
        ))}
      </div>
    </RadioGroup.Root>
  )
}
