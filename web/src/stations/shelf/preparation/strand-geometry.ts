import type { Schemas } from "../../../shared/api/client";

export type Flow = Schemas["FlowOut"];
/** A piece of the drawing: its stratum, and its outline. */
export type Piece = { key: string; path: string };
/** How a strand is laid out: the strata from top to bottom, px a gram, and the height in px. */
export type Layout = { order: string[]; scale: number; height: number };

export const STEP_WIDTH = 208;
export const FEED_WIDTH = 88;
/** Where what turns away leaves the drawing. */
export const AWAY = 96;
const FELT_G = 0.05;

type Span = { top: number; bottom: number };

export function gramsOf(flow: Flow, key: string): number {
  return flow.strata.find((part) => part.key === key)?.grams ?? 0;
}

/** Where each stratum of a strand lies; the strand is centred. */
function stacked(flow: Flow, { order, scale, height }: Layout): (Span & { key: string })[] {
  let y = (height - flow.grams * scale) / 2;
  return order.map((key) => {
    const top = y;
    y += gramsOf(flow, key) * scale;
    return { key, top, bottom: y };
  });
}

function band(width: number, left: Span, right: Span): string {
  const middle = width / 2;
  return `M0 ${left.top}C${middle} ${left.top} ${middle} ${right.top} ${width} ${right.top}L${width} ${right.bottom}C${middle} ${right.bottom} ${middle} ${left.bottom} 0 ${left.bottom}Z`;
}

/** What stays in the strand through a step. */
export function staying(before: Flow, after: Flow, layout: Layout): Piece[] {
  const to = stacked(after, layout);
  return stacked(before, layout).map((left, at) => ({ key: left.key, path: band(STEP_WIDTH, left, to[at]!) }));
}

/** What turns away from the strand at its edge, to the top or the bottom; what one has more than the other. */
export function turning(more: Flow, less: Flow, layout: Layout, up: boolean): Piece[] {
  const edge = (layout.height + (up ? -1 : 1) * more.grams * layout.scale) / 2;
  const [exit, inward] = up ? [0, 1] : [layout.height, -1];
  const pieces: Piece[] = [];
  let near = 0;
  for (const key of layout.order) {
    const grams = gramsOf(more, key) - gramsOf(less, key);
    if (grams <= FELT_G) continue;
    const far = near + Math.max(grams * layout.scale, 1);
    const [y1, y2] = [edge + inward * near, edge + inward * far];
    pieces.push({
      key,
      path: `M12 ${y1}C${AWAY - 40} ${y1} ${AWAY + near} ${y1} ${AWAY + near} ${exit}L${AWAY + far} ${exit}C${AWAY + far} ${y2} ${AWAY - 30} ${y2} 12 ${y2}Z`,
    });
    near = far;
  }
  return pieces;
}

/** What goes in, one strand a line, running together; a line that is taken out again is not part of them. */
export function running(lines: (Flow & { steeped: boolean })[], layout: Layout, rowHeight: number): Piece[] {
  const { order, scale, height } = layout;
  const grams = lines.reduce((sum, line) => sum + (line.steeped ? 0 : line.grams), 0);
  const first = (height - lines.length * rowHeight) / 2;
  const left = lines.map((line, at) => first + (at + 0.5) * rowHeight - (line.grams * scale) / 2);
  const pieces: Piece[] = [];
  let y = (height - grams * scale) / 2;
  for (const key of order) {
    lines.forEach((line, at) => {
      const size = line.steeped ? 0 : gramsOf(line, key) * scale;
      if (size <= 0) return;
      const start = left[at] ?? 0;
      pieces.push({ key, path: band(FEED_WIDTH, { top: start, bottom: start + size }, { top: y, bottom: y + size }) });
      left[at] = start + size;
      y += size;
    });
  }
  return pieces;
}

/** The threads of what is taken out again, from its row to the strand. */
export function threads(lines: { steeped: boolean }[], height: number, rowHeight: number): string[] {
  const first = (height - lines.length * rowHeight) / 2;
  return lines.flatMap(({ steeped }, at) => {
    const y = first + (at + 0.5) * rowHeight;
    return steeped ? [`M0 ${y}C44 ${y} 44 ${height / 2} ${FEED_WIDTH} ${height / 2}`] : [];
  });
}
