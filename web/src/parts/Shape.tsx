import type { Feed } from '../api/client'

/** How a source lies on the programme, to shape: the frame, the part it covers, and dashed what is cut off. */
export function Shape({
  shape,
  x,
  y,
  width,
  height,
}: {
  shape: NonNullable<Feed['shape']>
  x: number
  y: number
  width: number
  height: number
}) {
  const { at, shows } = shape
  const on = { x: x + at.x * width, y: y + at.y * height, w: at.w * width, h: at.h * height }
  const cut = {
    x: on.x - (shows.x / shows.w) * on.w,
    y: on.y - (shows.y / shows.h) * on.h,
    width: on.w / shows.w,
    height: on.h / shows.h,
  }
  return (
    <g data-shape={shape.words || 'whole'}>
      <rect x={x} y={y} width={width} height={height} fill="var(--ink)" opacity="0.85" rx="1.5" />
      <rect
        x={on.x + 1.5}
        y={on.y + 1.5}
        width={Math.max(0, on.w - 3)}
        height={Math.max(0, on.h - 3)}
        fill="var(--sheet)"
      />
      <path
        d={`M${on.x + 2} ${on.y + on.h - 2}l${on.w * 0.3} ${-on.h * 0.45}l${on.w * 0.22} ${on.h * 0.2}l${on.w * 0.2} ${-on.h * 0.3}L${on.x + on.w - 2} ${on.y + on.h - 2}z`}
        fill="var(--twist)"
      />
      {(shows.w < 1 || shows.h < 1) && (
        <rect {...cut} fill="none" stroke="var(--taut)" strokeWidth="1.2" strokeDasharray="2 2" />
      )}
      {shape.words.includes('interlaced') && (
        <path
          d={[0.25, 0.5, 0.75].map((k) => `M${on.x + 2} ${on.y + on.h * k}h${on.w - 4}`).join('')}
          stroke="var(--taut)"
          strokeWidth="1"
        />
      )}
    </g>
  )
}
