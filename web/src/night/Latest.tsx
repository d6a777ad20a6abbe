import { type ReactNode, useState } from 'react'
import { words } from '../words'

const more = 200

/** The latest of a long list, with more on asking: a page that draws a hundred thousand lines answers nobody. */
export function Latest<T>({ of, each, rows }: { of: T[]; each: (one: T) => ReactNode; rows?: boolean }) {
  const [shown, setShown] = useState(more)
  const hidden = Math.max(0, of.length - shown)
  const button = (
    <button className="quiet text-sm" onClick={() => setShown(shown + more)}>
      {words.night.earlier(hidden)}
    </button>
  )
  return (
    <>
      {hidden > 0 &&
        (rows ? (
          <tr>
            <td colSpan={9}>{button}</td>
          </tr>
        ) : (
          <li className="list-none py-1">{button}</li>
        ))}
      {of.slice(hidden).map(each)}
    </>
  )
}
