import type { ReactNode } from 'react'

/** A list under a heading that says what stands in it. */
export function ListSection(props: {
  id: string
  title: string
  help: string
  className?: string
  children: ReactNode
}) {
  return (
    <section aria-labelledby={props.id} className={props.className}>
      <h2 id={props.id} className="text-lg font-semibold">
        {props.title}
      </h2>
      <p className="text-sm text-muted">{props.help}</p>
      <ul className="mt-2 border-t border-hair">{props.children}</ul>
    </section>
  )
}
