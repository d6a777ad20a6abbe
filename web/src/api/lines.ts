import { Failure } from './client'

/** Reads an answer that comes in lines of JSON as they come, and gives the last. `broken` is said when it is not whole. */
export async function linesOf<T extends { problem?: string }>(
  sent: Response,
  told: (line: T) => void,
  broken: string,
): Promise<T> {
  if (!sent.ok || !sent.body) {
    const problem = (await sent.json().catch(() => undefined)) as { detail?: string } | undefined
    throw new Failure(sent.status, problem?.detail ?? broken)
  }
  const lines = sent.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  let last: T | undefined
  for (;;) {
    const { done, value } = await lines.read()
    if (done) break
    const all = (rest + value).split('\n')
    rest = all.pop()!
    for (const line of all) if (line) told((last = JSON.parse(line) as T))
  }
  if (last?.problem) throw new Failure(422, last.problem)
  if (!last) throw new Failure(0, broken)
  return last
}
