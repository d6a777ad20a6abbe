import { useRef } from 'react'

/** A button that asks for a file and hands it on; the same file may be chosen twice. */
export function ImportButton({
  label,
  accept,
  bring,
}: {
  label: string
  accept: string
  bring: (f: File) => void
}) {
  const file = useRef<HTMLInputElement>(null)
  return (
    <>
      <button className="act" onClick={() => file.current?.click()}>
        {label}
      </button>
      <input
        ref={file}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(e) => {
          const f = e.target.files?.[0]
          if (f) bring(f)
          e.target.value = ''
        }}
      />
    </>
  )
}
