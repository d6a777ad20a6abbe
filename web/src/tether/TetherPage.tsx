import { useState } from 'react'
import { useSearchParams } from 'react-router'
import type { Failure } from '../api/client'
import { BenchRig } from '../bench/BenchRig'
import { Beside, Missing, MoreSource } from '../bench/Beside'
import { SayLine } from '../bench/SayLine'
import { ThingPanel } from '../bench/ThingPanel'
import { Deleted } from '../parts/Deleted'
import { Clash } from '../parts/Clash'
import { Frame, Problems } from '../parts/Frame'
import { RigActions } from '../parts/RigActions'
import { Glyph } from '../parts/Rope'
import { Safe } from '../parts/Safe'
import { StateWord } from '../parts/StateWord'
import { useNarrow } from '../parts/useNarrow'
import { useTitle } from '../parts/useTitle'
import { words } from '../words'
import { Board } from './Board'
import { Branches } from './Branches'
import { Column } from './Column'
import { Cure, Proposed } from './Cure'
import { Findings } from './Findings'
import { HeldBar } from './HeldBar'
import { HopPanel } from './HopPanel'
import { Loading } from './Loading'
import { Measured } from './Measured'
import { NewerSheets } from './NewerSheets'
import { NextQuestion } from './NextQuestion'
import { NotJudged } from './NotJudged'
import { RigName } from './RigName'
import { SharedLimits } from './SharedLimits'
import { useBench, useBenchKeys } from './useBench'
import { usePanels } from './usePanels'

const w = words.board

/** The board of one rig: the verdict, the tethers, what is held, and what there is to say of them. */
export function TetherPage() {
  const [search, setSearch] = useSearchParams()
  const revision = Number(search.get('revision') ?? 0)
  const [lit, setLit] = useState<string[]>()
  const panels = usePanels()
  const { open, thing } = panels
  const narrow = useNarrow()
  const bench = useBench(revision)
  const {
    id,
    board,
    now,
    kept,
    verdict,
    told,
    held,
    hold,
    keep,
    keepIt,
    save,
    saving,
    back,
    clash,
    clashing,
    notice,
  } = bench
  const { readOnly, movesOf } = bench
  useBenchKeys(bench)
  useTitle(now?.name, w.title)

  if (!now || !verdict || !told)
    return (
      <Frame>
        <main className="p-8">
          {board.error ? (
            <>
              <Problems error={board.error} />
              <button className="act mt-3" onClick={() => board.refetch()}>
                {words.again}
              </button>
            </>
          ) : (
            <Loading />
          )}
        </main>
      </Frame>
    )
  const cure = verdict.cure
  return (
    <BenchRig value={bench.hands}>
      <Frame
        rig={id}
        title={
          <RigName
            board={now}
            readOnly={readOnly}
            rename={(name) => keepIt({ edits: [{ do: 'name', name }], what: `Called it ${name}` })}
          />
        }
        actions={
          <RigActions
            id={id}
            now={now}
            revision={revision}
            step={back}
            backTo={bench.backTo}
            look={(n) => setSearch(n ? { revision: String(n) } : {})}
          />
        }
      >
        <main className="px-6 pb-32 max-sm:px-4">
          <Deleted board={now} />
          {readOnly && !now.deletedAt && (
            <p role="status" className="-mx-6 bg-wash px-6 py-2">
              {now.newest ? w.frozen : w.past(now.revision)}{' '}
              {!now.newest && (
                <button className="quiet font-semibold" onClick={() => setSearch({})}>
                  {w.newest}
                </button>
              )}
            </p>
          )}
          <section
            className="grid min-h-40 grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-4 py-4 lg:grid-cols-[minmax(0,1fr)_25rem]"
            aria-live="polite"
          >
            <div>
              <h1
                className="flex items-start gap-4 text-[20px] leading-[26px] font-semibold tracking-tight [overflow-wrap:anywhere] max-sm:flex-col max-sm:gap-1 max-sm:text-[16px] max-sm:leading-[21px]"
                data-testid="sentence"
                data-state={verdict.state}
              >
                <span className="mt-1 flex flex-col items-start max-sm:mt-0 max-sm:flex-row max-sm:items-center max-sm:gap-2">
                  <Glyph state={verdict.state} />
                  <span className="text-xs font-normal">
                    <StateWord state={verdict.state} />
                  </span>
                </span>
                <span data-testid="said">{verdict.sentence}</span>
              </h1>
              {verdict.toFindOut.length > 0 && (
                <p
                  className="mt-1 text-sm text-muted [overflow-wrap:anywhere] sm:pl-15"
                  data-testid="to-find-out"
                >
                  {words.board.toFindOut(verdict.toFindOut.slice(0, 3), verdict.toFindOut.length - 3)}
                </p>
              )}
              {cure && !held && !readOnly && <Cure key={now.revision} cure={cure} hold={hold} />}
              <Proposed proposed={verdict.proposed} keep={held || readOnly ? undefined : (c) => keepIt(c)} />
            </div>
            {!readOnly && (
              <Safe what={words.broke.question} again={[now.revision]}>
                <NextQuestion
                  questions={kept!.questions}
                  limits={kept!.limits}
                  busy={saving}
                  keep={bench.answer}
                />
              </Safe>
            )}
          </section>
          {!readOnly && <Measured now={now} keep={(c) => keepIt(c)} />}
          {clashing && <Clash clash={clashing} />}
          {(clash || notice) && (
            <p role="status" className="mb-3 bg-wash px-4 py-2">
              {clash ? w.clash : notice}
            </p>
          )}
          {held && (
            <HeldBar
              held={held}
              saving={saving}
              waiting={save.failureCount > 0 && saving}
              error={(save.error ?? bench.ghost.error ?? null) as Failure | null}
              effect={bench.ghost.shown?.judged.words}
              before={kept!}
              after={bench.ghost.shown?.verdict}
              more={bench.pinned === held ? undefined : bench.pin}
              keep={keep}
              back={() => hold(undefined)}
            />
          )}
          {(back.error ?? bench.backTo.error) && (
            <Problems error={(back.error ?? bench.backTo.error) as Failure} />
          )}
          {!held && save.error && !clash && !clashing && (
            <div className="mb-3 border-l-4 border-snapped pl-4">
              <Problems error={save.error} />
            </div>
          )}
          <Safe what={words.broke.board} again={[verdict]}>
            {narrow ? (
              <Column verdict={verdict} open={open} onOpen={panels.hop} />
            ) : (
              <Board
                kept={kept!}
                lit={lit}
                light={setLit}
                rig={now.rig}
                ghost={bench.drawn}
                open={open}
                onOpen={panels.hop}
                onStep={bench.onStep}
                onPick={bench.onPick}
                movesOf={movesOf}
                onHold={bench.onHold}
                onKeep={keep}
                readOnly={readOnly}
              />
            )}
          </Safe>
          {!readOnly && (
            <>
              <MoreSource rig={bench.rig ?? now.rig} add={bench.add} />
              <SayLine rig={bench.rig ?? now.rig} add={bench.add} />
            </>
          )}
          <p className="mt-1 text-xs text-muted max-md:hidden">{w.keys}</p>
          <Safe what={words.broke.below} again={[verdict]}>
            <Beside
              rig={bench.rig ?? now.rig}
              verdict={verdict}
              open={panels.look}
              add={readOnly ? undefined : bench.add}
            />
          </Safe>
          {!readOnly && !held && <NewerSheets id={id} revision={now.revision} hold={hold} />}
          <Safe what={words.broke.below} again={[told]}>
            <div className="mt-8 grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-8 lg:grid-cols-2">
              <div className="min-w-0">
                <SharedLimits limits={told.limits} />
                <Branches verdict={told} />
              </div>
              <div className="min-w-0">
                <Findings
                  verdict={told}
                  advising={bench.advising}
                  hold={readOnly ? undefined : hold}
                  lit={lit}
                  light={setLit}
                  missing={
                    readOnly
                      ? undefined
                      : (kind) => <Missing rig={bench.rig ?? now.rig} kind={kind} add={bench.add} />
                  }
                />
                <NotJudged verdict={told} />
              </div>
            </div>
          </Safe>
        </main>
        {open && (
          <HopPanel
            at={open}
            verdict={verdict}
            rig={bench.rig ?? now.rig}
            close={panels.close}
            movesOf={movesOf}
            revision={now.revision}
            hold={readOnly ? undefined : hold}
            held={held}
            add={readOnly ? undefined : bench.add}
          />
        )}
        {thing && !open && (
          <ThingPanel
            rig={bench.rig ?? now.rig}
            item={thing}
            close={panels.close}
            add={readOnly ? undefined : bench.add}
            held={!!held}
          />
        )}
      </Frame>
    </BenchRig>
  )
}
