import { words } from '../words'
import type { Looked } from './clip'

/** A picture's frame in small: what of it is in use, and the boxes around what stays put. */
export function PictureFrame({
  frame: f,
  jpeg,
}: {
  frame: NonNullable<Looked['frame']>
  /** The picture itself, in base64, where there is one. */
  jpeg?: string
}) {
  const line = { fill: 'none', vectorEffect: 'non-scaling-stroke' as const }
  const says = words.look.frame(f.stays.length)
  return (
    <figure className="mt-3 text-sm text-muted" data-testid="picture-frame">
      <svg
        role="img"
        aria-label={says}
        viewBox={`0 0 ${f.width} ${f.height}`}
        className={`bg-wash outline outline-1 outline-ink ${jpeg ? 'max-h-56 max-w-96' : 'max-h-40 max-w-60'}`}
      >
        {jpeg && <image href={`data:image/jpeg;base64,${jpeg}`} width={f.width} height={f.height} />}
        <rect
          x={f.active.x}
          y={f.active.y}
          width={f.active.w}
          height={f.active.h}
          className="stroke-muted"
          strokeDasharray="4 3"
          {...line}
        />
        {f.stays.map((b, i) => (
          <rect
            key={i}
            x={b.x}
            y={b.y}
            width={b.w}
            height={b.h}
            className="stroke-kinked"
            strokeWidth={2}
            {...line}
          />
        ))}
      </svg>
      <figcaption className="mt-1">{says}</figcaption>
    </figure>
  )
}
