/** A fact on a small scale from nothing to the next round figure: its bounds as a bar, its value as a tick. What was
 * measured is solid, an estimate is a row of dots: it looks like what it is. The words beside it say the same. */
export function Bounds({
  low,
  value,
  high,
  est,
}: {
  low: number
  value: number
  high: number
  est: boolean
}) {
  const top = round(Math.max(high, value, Number.MIN_VALUE))
  const at = (v: number) => 1 + (Math.max(0, v) / top) * 118
  const wide = Math.max(1.5, at(high) - at(low))
  return (
    <svg
      className="inline-block shrink-0 align-middle"
      width="120"
      height="12"
      viewBox="0 0 120 12"
      aria-hidden="true"
      data-scale={est ? 'estimate' : 'known'}
    >
      <path d="M1 9.5H119M1 6.5v3M119 6.5v3" stroke="var(--muted)" fill="none" />
      {est ? (
        <path
          d={`M${at(low) + 1.5} 5.5H${at(low) + wide}`}
          stroke="var(--untested)"
          strokeWidth="3"
          strokeDasharray="0.1 5"
          strokeLinecap="round"
        />
      ) : (
        <rect x={at(low)} y="4" width={wide} height="3" fill="var(--ink)" />
      )}
      <path d={`M${at(value)} 1v8.5`} stroke="var(--ink)" strokeWidth="1.5" />
    </svg>
  )
}

/** The next 1, 2 or 5 times a power of ten. */
function round(v: number): number {
  const power = 10 ** Math.floor(Math.log10(v))
  return [1, 2, 5, 10].map((k) => k * power).find((x) => x >= v) ?? v
}
