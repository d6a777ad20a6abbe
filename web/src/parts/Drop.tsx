import { useState, type ReactNode } from 'react'

/** A place files are dropped on, with what is said and chosen there. */
export function Drop({ bring, children }: { bring: (f: File) => void; children: ReactNode }) {
  const [over, setOver] = useState(false)
  return (
    <section
      className={`rounded border border-dashed border-ink p-4 ${over ? 'bg-wash' : ''}`}
      data-testid="drop"
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        const f = e.dataTransfer.files[0]
        if (f) bring(f)
      }}
    >
      {children}
    </section>
  )
}

/** What a recording is called by. */
export const recordings = 'video/*,audio/*,.mkv,.ts,.flv,.mxf'
