import { Popover, PopoverDisclosure, PopoverProvider, Tooltip, TooltipAnchor, TooltipProvider } from '@ariakit/react'
import { type Said, turnedBy } from '../book/desk-book'
import { useBookState, useDeskBook } from '../book/use-book'
import { counted, countedOf } from '../look/cell-text'
import { StepFacts } from './step-facts'

/** Beads of the line: the newest steps. */
const SHOWN = 7

/** What was done, step by step, what followed of the last one, and how many rows are shown. */
export function Steps({ children }: { children: React.ReactNode }) {
  const book = useDeskBook()
  const { steps, said } = useBookState()
  const { done, undone } = turnedBy(steps)
  const own = steps.filter(({ kind, revision }) => kind === 'apply' && (done.includes(revision) || undone.includes(revision)))
  const now = done.at(-1)
  return (
    <footer className="steps">
      <PopoverProvider placement="top-start">
        <PopoverDisclosure className="quiet-button steps-all" aria-label={`All steps, ${own.length}`}>
          steps
        </PopoverDisclosure>
        <Popover unmountOnHide className="popover steps-list" gutter={8} portal aria-label="Steps">
          {own.length === 0 && <p className="soft">Nothing was done yet. Whatever you do stands here, and can be taken back.</p>}
          <ol>
            {own.toReversed().map((step) => (
              <li key={step.revision} className={undone.includes(step.revision) ? 'undone' : ''}>
                <button
                  type="button"
                  aria-current={step.revision === now ? 'step' : undefined}
                  onClick={() => void book.returnTo(step.revision)}
                >
                  <b>{step.what}</b>
                  <StepFacts step={step} />
                </button>
              </li>
            ))}
          </ol>
        </Popover>
      </PopoverProvider>
      <ol className="steps-line" aria-label="Newest steps">
        {own.slice(-SHOWN).map((step) => (
          <li key={step.revision}>
            <TooltipProvider>
              <TooltipAnchor
                render={<button type="button" />}
                className={`step ${undone.includes(step.revision) ? 'undone' : ''} ${step.revision === now ? 'now' : ''}`}
                aria-label={`${step.what}: return to it`}
                onClick={() => void book.returnTo(step.revision)}
              />
              <Tooltip className="tooltip" gutter={6} portal>
                {step.what}
                <StepFacts step={step} isWhole />
              </Tooltip>
            </TooltipProvider>
          </li>
        ))}
      </ol>
      {book.may.edit && (
        <>
          <button
            type="button"
            className="icon-button"
            title="Take back (Ctrl Z)"
            aria-label="Take back"
            onClick={() => void book.turn('undo')}
          >
            ↶
          </button>
          <button
            type="button"
            className="icon-button"
            title="Do again (Ctrl Shift Z)"
            aria-label="Do again"
            onClick={() => void book.turn('redo')}
          >
            ↷
          </button>
        </>
      )}
      <SaidLine said={said} />
      {children}
    </footer>
  )
}

/** The last thing that was done, or why it was not: what followed can be opened, ways on can be taken. */
function SaidLine({ said }: { said: Said | null }) {
  const book = useDeskBook()
  const cells = said?.followed.reduce((sum, { rows }) => sum + rows, 0) ?? 0
  return (
    <output className={`said ${said?.kind ?? ''}`} aria-live="polite">
      {said !== null && <span className="said-text">{said.text}</span>}
      {said?.kind === 'done' && cells > 0 && (
        <PopoverProvider placement="top">
          <PopoverDisclosure className="quiet-button">
            {countedOf(cells, 'cell')} followed in {countedOf(said.followed.length, 'column')}
          </PopoverDisclosure>
          <Popover unmountOnHide className="popover" gutter={8} portal aria-label="What followed">
            <dl>
              {said.followed.map(({ table, column, rows }) => (
                <div key={`${table} ${column}`}>
                  <dt>
                    {table}.{column}
                  </dt>
                  <dd>{counted(rows)}</dd>
                </div>
              ))}
            </dl>
          </Popover>
        </PopoverProvider>
      )}
      {said?.kind === 'done' && cells === 0 && <span className="soft">no other cell depends on it</span>}
      {said?.fixes.map((fix) => (
        <button type="button" key={fix.title} onClick={() => void book.applyFix(fix)}>
          {fix.title}
        </button>
      ))}
    </output>
  )
}
