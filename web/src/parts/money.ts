export type Money = { amount: string; currency: string }

/** An amount in the comma or point of whoever reads it, with its currency. */
export function money(m?: Money | null): string {
  if (!m) return '–'
  const figure = new Intl.NumberFormat(navigator.language, {
    minimumFractionDigits: 2,
    maximumFractionDigits: 4,
    useGrouping: false,
  })
  return `${figure.format(m.amount as unknown as number)} ${m.currency}` // as text: no decimal is lost
}
