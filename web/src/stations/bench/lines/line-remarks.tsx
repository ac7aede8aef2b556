import type { Units } from "../../../shared/format/units";
import { useUnits } from "../../../shared/format/units";
import type { Line } from "../draft/draft";
import { isConverted } from "./line-unit";
import type { LineRowProps } from "./line-row-props";

type Props = LineRowProps & { id: string; name: string };

/** What there is to say below a line: what it was read as, its note and limits, what to mind, and what is wrong. */
export function LineRemarks(props: Props) {
  const { line, reading, mixIn, actions, name } = props;
  const units = useUnits();
  return (
    <>
      {converted(props, units) && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          = {units.mass(reading?.grams ?? 0)}
          {reading?.assumed && `, by ${reading.assumed}`}
        </p>
      )}
      <Held line={line} />
      {reading?.mind && <p className="mb-1 ml-9 border-l-3 border-hot pl-2 text-sm">{reading.mind}</p>}
      {reading?.offends && (
        <p className="pb-0.5 pl-9 text-sm text-hot">
          {name} {reading.offends}.{" "}
          <button type="button" className="underline" onClick={() => actions.ask({ what: "look", key: line.key })}>
            What could stand in?
          </button>
        </p>
      )}
      {props.mistakable && props.mistakable.length > 0 && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          Not {props.mistakable.slice(0, 2).join(" or ")}?{" "}
          <button type="button" className="underline" onClick={() => actions.ask({ what: "look", key: line.key })}>
            What that would do
          </button>
        </p>
      )}
      {mixIn && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          {units.number(mixIn.share_pct)}&nbsp;% of the tub. {mixIn.message} {mixIn.advice}
        </p>
      )}
      <AmountError {...props} />
    </>
  );
}

function AmountError({ id, line, reading }: Props) {
  if (!reading?.error) return null;
  return (
    <p id={`${id}-error`} role="status" className={`pb-1 pl-9 text-sm text-hot ${line.typed === "" ? "group-focus-within:hidden" : ""}`}>
      {reading.error}
    </p>
  );
}

/** Whether what was typed says something else than the kitchen's unit, and was read. */
function converted({ line, reading }: Props, units: Units): boolean {
  return reading !== undefined && !reading.error && reading.grams !== null && (isConverted(line, units) || reading.assumed !== null);
}

/** What is noted of a line, and what Balance may do with it. */
function Held({ line }: { line: Line }) {
  const units = useUnits();
  const least = line.least_g ?? null;
  const most = line.most_g ?? null;
  const limits = [
    least !== null && most !== null ? `${units.massFigure(least)} to ${units.mass(most)}` : "",
    least !== null && most === null ? `at least ${units.mass(least)}` : "",
    least === null && most !== null ? `at most ${units.mass(most)}` : "",
    line.whole ? `each ${line.whole} whole` : line.step_g ? `in steps of ${units.mass(line.step_g)}` : "",
  ].filter(Boolean);
  if (limits.length === 0 && !line.note) return null;
  return (
    <p className="pb-0.5 pl-9 text-sm text-muted">
      {line.note && <i>{line.note}</i>}
      {line.note && limits.length > 0 && " · "}
      {limits.join(", ")}
    </p>
  );
}
