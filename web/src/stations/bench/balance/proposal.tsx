import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Checkbox } from "../../../ui/checkbox";
import { changes } from "./changes";
import { useBalance } from "./use-balance";

/** What Balance proposes: a sentence, each line before and after, the words that change, and what could not be reached. */
export function ProposalView() {
  const { proposal, taken, setTaken, accept, dismiss } = useBalance();
  const units = useUnits();
  if (!proposal) return null;
  const changing = proposal.lines.map((line, at) => ({ line, at })).filter(({ line }) => changes(line));

  function toggle(at: number, on: boolean) {
    const now = new Set(taken);
    if (on) now.add(at);
    else now.delete(at);
    setTaken(now);
  }

  return (
    <div className="grid content-start gap-2">
      <p aria-live="polite" className="font-semibold" data-proposal>
        {proposal.message}
      </p>
      <div className="flex gap-2">
        {changing.length > 0 && (
          <Button kind="hot" onClick={accept} disabled={taken.size === 0}>
            {changing.every(({ at }) => taken.has(at)) ? "Take it" : "Take the ticked lines"}
          </Button>
        )}
        <Button onClick={dismiss}>Leave it</Button>
      </div>
      {proposal.unmet.map((unmet) => (
        <div key={unmet.of} className="border-l-3 border-hot pl-2 text-sm">
          <p>{unmet.because}</p>
          <p className="text-muted">Would help: {unmet.would_help.join("; or ")}.</p>
        </div>
      ))}
      {changing.length > 0 && (
        <ul aria-label="Lines that change" className="grid gap-x-6 text-sm sm:grid-cols-2 xl:grid-cols-1 2xl:grid-cols-2">
          {changing.map(({ line, at }) => (
            <li key={at}>
              <Checkbox className="text-sm" checked={taken.has(at)} onChange={(checked) => toggle(at, checked)}>
                <span className="flex gap-2">
                <span className="min-w-0 truncate">{line.was === line.name ? line.name : `${line.was} → ${line.name}`}</span>
                <span className="ml-auto whitespace-nowrap">
                  <span className="text-muted">{units.massFigure(line.before_g)}</span> → <b>{units.mass(line.after_g)}</b>
                </span>
                </span>
              </Checkbox>
            </li>
          ))}
        </ul>
      )}
      {proposal.words.length > 0 && (
        <p className="text-sm">
          {proposal.words.map((word, at) => (
            <span key={word.key}>
              {at > 0 && "; "}
              {word.name.toLowerCase()} {word.before} → <b className={word.good ? "" : "text-hot"}>{word.after}</b>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}
