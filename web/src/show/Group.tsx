export function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section>
      <h2 className="border-b border-ink pb-1 text-lg font-semibold">{title}</h2>
      {children}
    </section>
  )
}
