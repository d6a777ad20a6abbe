/** Work done one after another, in the order it was begun; what fails ends itself alone. */
export function turns() {
  let last: Promise<unknown> = Promise.resolve()
  return <T>(job: () => Promise<T>): Promise<T> => {
    const mine = last.then(job)
    last = mine.catch(() => undefined)
    return mine
  }
}
