import { paint } from "../../../charts/strata";
import { type Flow, FEED_WIDTH, type Layout, type Piece, running, staying, STEP_WIDTH, threads, turning } from "./strand-geometry";

type StrandProps = { before: Flow; after: Flow; layout: Layout; up?: boolean | undefined };

/** The strand through one step: what stays goes on narrower, what leaves turns away, what comes in joins. */
export function Strand({ before, after, layout, up = false }: StrandProps) {
  return (
    <svg width={STEP_WIDTH} height={layout.height} aria-hidden="true" className="block">
      <g opacity={0.55}>
        <Pieces pieces={turning(before, after, layout, up)} />
      </g>
      <g opacity={0.55} transform={`translate(${STEP_WIDTH} 0) scale(-1 1)`}>
        <Pieces pieces={turning(after, before, layout, true)} />
      </g>
      <Pieces pieces={staying(before, after, layout)} />
    </svg>
  );
}

/** What goes in, one strand a line, running together. */
export function Feed({ lines, layout, rowHeight }: { lines: (Flow & { steeped: boolean })[]; layout: Layout; rowHeight: number }) {
  return (
    <svg width={FEED_WIDTH} height={layout.height} aria-hidden="true" className="block shrink-0">
      {threads(lines, layout.height, rowHeight).map((path) => (
        <path key={path} d={path} fill="none" stroke="var(--muted)" strokeDasharray="3 3" />
      ))}
      <Pieces pieces={running(lines, layout, rowHeight)} />
    </svg>
  );
}

function Pieces({ pieces }: { pieces: Piece[] }) {
  return pieces.map(({ key, path }, at) => <path key={`${at} ${key}`} d={path} fill={paint(key)} />);
}
