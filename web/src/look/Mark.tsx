type Answer = 'found' | 'clear' | 'cannot-tell'

const colours: Record<Answer, string> = {
  found: 'text-slack',
  clear: 'text-snapped',
  'cannot-tell': 'text-untested',
}

/** Whether what was measured is what was planned: in a word, and its colour. */
export function Mark({ answer, words }: { answer: Answer; words: Record<Answer, string> }) {
  return <span className={`${colours[answer]} font-semibold`}>{words[answer]}</span>
}
