import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";

type Taste = Schemas["TasteOut"];
const WIDTH = 420;
const HEIGHT = 170;
const LEFT = 34;
const MINUTES = 60;
const EVERY_MIN = 5;

/** The melt test: what dripped over time beside the usual, and a timer that asks every five minutes. */
export function MeltPanel({ taste }: { taste: Taste }) {
  const units = useUnits();
  const [testing, setTesting] = useState(false);
  const last = taste.melt_tests.at(-1);
  return (
    <section aria-label="Melt test" className="panel grid content-start gap-2 p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="mr-auto text-lg">Melt test{last ? `, ${units.setting(last.room_c)}` : ""}</h2>
        <Button onClick={() => setTesting(true)}>{last ? "Another" : "Begin"}</Button>
      </div>
      {last ? (
        <>
          <Curve test={last} usual={taste.usual_melt} />
          <p>{last.said}</p>
        </>
      ) : (
        <p className="text-muted">A ball of 65 ml on a mesh at 20 to 25 °C; what drips is weighed every five minutes.</p>
      )}
      {testing && <MeltDialog taste={taste} onClose={() => setTesting(false)} />}
    </section>
  );
}

function Curve({ test, usual }: { test: Schemas["MeltTestOut"]; usual: number[] }) {
  const x = (minute: number) => LEFT + ((WIDTH - LEFT - 8) * Math.min(minute, MINUTES)) / MINUTES;
  const y = (share: number) => 10 + (HEIGHT - 30) * (1 - Math.min(share, 100) / 100);
  const points = [{ minute: 0, grams: 0 }, ...test.drips].map(({ minute, grams }) => `${x(minute)},${y((100 * grams) / test.ball_g)}`);
  const onset = ((usual[0] ?? 8) + (usual[1] ?? 25)) / 2;
  const rate = ((usual[2] ?? 0.8) + (usual[3] ?? 2.5)) / 2;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full max-w-lg" role="img" aria-label={test.said}>
      {[0, 50, 100].map((share) => (
        <g key={share}>
          <line x1={LEFT} x2={WIDTH - 8} y1={y(share)} y2={y(share)} stroke="var(--line)" />
          <text x={LEFT - 5} y={y(share) + 4} fontSize="11" textAnchor="end" fill="var(--muted)">
            {share}
          </text>
        </g>
      ))}
      <polyline points={`${x(0)},${y(0)} ${x(onset)},${y(0)} ${x(MINUTES)},${y(rate * (MINUTES - onset))}`} fill="none" stroke="var(--curve)" strokeDasharray="5 4" strokeWidth="1.5" />
      <polyline points={points.join(" ")} fill="none" stroke="var(--ink)" strokeWidth="2.5" />
      <text x={WIDTH - 8} y={HEIGHT - 2} fontSize="11" textAnchor="end" fill="var(--muted)">
        {MINUTES} min, % of the ball; dashed: usual
      </text>
    </svg>
  );
}

function MeltDialog({ taste, onClose }: { taste: Taste; onClose: () => void }) {
  const client = useQueryClient();
  const [key] = useState(() => crypto.randomUUID());
  const [ball, setBall] = useState("");
  const units = useUnits();
  const [room, setRoom] = useState(() => units.typedTemperature(22));
  const [drips, setDrips] = useState<{ minute: number; grams: number }[]>([]);
  const ballG = readNumber(ball);
  const roomC = units.readTemperature(room);
  const keep = useMutation({
    mutationFn: () => answer(api.POST("/batches/{batch_id}/melt-tests", { params: { path: { batch_id: taste.batch } }, body: { key, ball_g: ballG ?? 0, room_c: roomC ?? 22, drips } })),
    onSuccess: (kept) => {
      client.setQueryData(["tastings", taste.batch], kept);
      onClose();
    },
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Melt test" explanation="Put the ball on the mesh, weigh what drips into the cup, type what it weighs in all.">
      <div className="grid gap-4">
        <div className="grid grid-cols-2 gap-3">
          <Field label="The ball, g" inputMode="decimal" value={ball} onChange={(event) => setBall(event.target.value)} />
          <Field label={`The room, ${units.temperatureUnit}`} inputMode="text" value={room} onChange={(event) => setRoom(event.target.value)} />
        </div>
        <DripRow drips={drips} onDrip={(drip) => setDrips([...drips, drip])} />
        <ul className="text-sm">
          {drips.map((drip, at) => (
            <li key={at} className="flex gap-3">
              {drip.minute} min: {drip.grams} g
              <button type="button" className="ml-auto underline" onClick={() => setDrips(drips.filter((_, place) => place !== at))}>
                take it out
              </button>
            </li>
          ))}
        </ul>
        {keep.error && (
          <p role="alert" className="text-hot">
            {keep.error.message}
          </p>
        )}
        <Button kind="hot" disabled={ballG === null || roomC === null || drips.length === 0 || keep.isPending} onClick={() => keep.mutate()}>
          Keep the test
        </Button>
      </div>
    </SheetDialog>
  );
}

/** The next reading: a timer that was started counts the minutes, or they are typed. */
function DripRow({ drips, onDrip }: { drips: { minute: number }[]; onDrip: (drip: { minute: number; grams: number }) => void }) {
  const [began, setBegan] = useState<number | null>(null);
  const [now, setNow] = useState(() => Date.now());
  const [minute, setMinute] = useState(String(EVERY_MIN));
  const [grams, setGrams] = useState("");
  useEffect(() => {
    if (began === null) return;
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, [began]);
  const passed = began === null ? null : (now - began) / 60_000;
  const next = Math.max(0, ...drips.map((one) => one.minute)) + EVERY_MIN;
  const at = readNumber(minute);
  const weight = readNumber(grams);
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (at === null || weight === null) return;
        onDrip({ minute: at, grams: weight });
        setMinute(String(at + EVERY_MIN));
        setGrams("");
      }}
    >
      <p role="timer" className="font-name text-2xl font-bold">
        {passed === null ? (
          <Button onClick={() => { setBegan(Date.now()); setNow(Date.now()); }}>Start the timer</Button>
        ) : (
          <>
            {Math.floor(passed)}:{String(Math.floor((passed % 1) * 60)).padStart(2, "0")}
            {passed >= next && <span className="ml-3 text-base text-hot">weigh now</span>}
          </>
        )}
      </p>
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-3">
        <Field label="Minute" inputMode="decimal" value={minute} onChange={(event) => setMinute(event.target.value)} />
        <Field label="Dripped in all, g" inputMode="decimal" value={grams} onChange={(event) => setGrams(event.target.value)} />
        <Button type="submit" disabled={at === null || weight === null}>
          Note it
        </Button>
      </div>
    </form>
  );
}
