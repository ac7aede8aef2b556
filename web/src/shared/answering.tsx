import { useState } from "react";

/** What is asked of one serving, wherever it is answered. */
export type Asked = { kind: string; question: string; number: number; taster: string; cups: { code: string; open: boolean }[]; marks: readonly string[] };

/** What is said of it, in codes, as the server takes it. */
export type Said = { key: string; serving: number; picked: string[]; liking: Record<string, number>; marks: Record<string, Record<string, number>> };

const LIKING = [1, 2, 3, 4, 5, 6, 7, 8, 9];
const MARKS = [
  { mark: -1, name: "too little" },
  { mark: 0, name: "just right" },
  { mark: 1, name: "too much" },
];
const BIG = "min-h-[56px] rounded-button border border-line bg-panel px-4 text-lg aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-panel";

function toggled(kind: string, picked: string[], code: string): string[] {
  if (picked.includes(code)) return picked.filter((other) => other !== code);
  if (kind === "ranking") return [...picked, code];
  if (kind === "tetrad") return [...picked, code].slice(-2);
  return [code];
}

/** One serving: cups by code to be picked, put in order, or liked; nothing is sent before it is whole. */
export function AnswerForm({ asked, onSaid, waiting = false }: { asked: Asked; onSaid: (said: Said) => void; waiting?: boolean }) {
  const [picked, setPicked] = useState<string[]>([]);
  const [liking, setLiking] = useState<Record<string, number>>({});
  const [marks, setMarks] = useState<Record<string, Record<string, number>>>({});
  const cups = asked.cups.filter(({ open }) => !open);
  const wanted = asked.kind === "ranking" ? cups.length : asked.kind === "tetrad" ? 2 : 1;
  const whole = asked.kind === "liking" ? cups.every(({ code }) => liking[code]) : picked.length === wanted;
  const say = () => onSaid({ key: crypto.randomUUID(), serving: asked.number, picked, liking, marks });
  return (
    <div className="grid gap-4">
      <p className="font-name text-xl font-bold">{asked.question}</p>
      {asked.cups.some(({ open }) => open) && <p>The open cup stands on the left. Taste it first.</p>}
      {asked.kind === "liking" ? (
        cups.map(({ code }) => (
          <Liked
            key={code}
            code={code}
            liking={liking[code]}
            onLiking={(value) => setLiking({ ...liking, [code]: value })}
            asks={asked.marks}
            marks={marks[code] ?? {}}
            onMarks={(now) => setMarks({ ...marks, [code]: now })}
          />
        ))
      ) : (
        <div className="flex flex-wrap gap-3">
          {cups.map(({ code }) => (
            <button key={code} type="button" className={`${BIG} min-w-24 font-bold`} aria-pressed={picked.includes(code)} onClick={() => setPicked(toggled(asked.kind, picked, code))}>
              {code}
              {asked.kind === "ranking" && picked.includes(code) && <span className="ml-2 font-normal">{picked.indexOf(code) + 1}.</span>}
            </button>
          ))}
        </div>
      )}
      <button type="button" className="min-h-[56px] rounded-button bg-hot px-5 text-lg font-semibold text-hot-ink disabled:opacity-50" disabled={!whole || waiting} onClick={say}>
        That is my answer
      </button>
    </div>
  );
}

type LikedProps = {
  code: string;
  liking: number | undefined;
  onLiking: (value: number) => void;
  asks: readonly string[];
  marks: Record<string, number>;
  onMarks: (marks: Record<string, number>) => void;
};

function Liked({ code, liking, onLiking, asks, marks, onMarks }: LikedProps) {
  return (
    <fieldset className="grid gap-2 rounded-panel border border-line p-3">
      <legend className="px-1 text-lg font-bold">{code}</legend>
      <div className="flex flex-wrap gap-1" role="group" aria-label={`How well you like ${code}`}>
        {LIKING.map((value) => (
          <button key={value} type="button" className="min-h-11 min-w-9 rounded-button border border-line bg-panel aria-pressed:bg-ink aria-pressed:text-panel" aria-pressed={liking === value} onClick={() => onLiking(value)}>
            {value}
          </button>
        ))}
      </div>
      {asks.map((attribute) => (
        <div key={attribute} role="group" aria-label={`${attribute} of ${code}`} className="flex flex-wrap items-center gap-1">
          <span className="w-20 text-sm capitalize">{attribute}</span>
          {MARKS.map(({ mark, name }) => (
            <button key={mark} type="button" className="min-h-11 rounded-button border border-line bg-panel px-2 text-sm aria-pressed:bg-ink aria-pressed:text-panel" aria-pressed={marks[attribute] === mark} onClick={() => onMarks({ ...marks, [attribute]: mark })}>
              {name}
            </button>
          ))}
        </div>
      ))}
    </fieldset>
  );
}
