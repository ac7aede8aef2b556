import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { Bath } from "../../../charts/bath";
import { answer, api, type Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Checkbox } from "../../../ui/checkbox";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Why } from "../../../ui/why";
import { useReading } from "../bench-context";
import { useDebouncedValue } from "../../../shared/use-debounced-value";
import { useCold } from "./cold-context";
import { MassField, NumberField, TemperatureField } from "../../../ui/quantity-fields";
import { useForecast } from "./use-forecast";

type Ice = { ice_g: number; salt_g: number; water_g: number; room_c: number; hours: number };

const BUCKET: Ice = { ice_g: 1000, salt_g: 220, water_g: 0, room_c: 20, hours: 3 };

/** Ice and salt: how cold, for how long, and how much of each for this batch. */
export function IceDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="Ice and salt" explanation="Salt decides how long a bath stays cold, not how cold it begins." wide>
      <IceAndSalt />
    </SheetDialog>
  );
}

function IceAndSalt() {
  const { conditions } = useCold();
  const [ice, setIce] = useState<Ice>({ ...BUCKET, ...(conditions.ice ? { ice_g: conditions.ice.ice_g, salt_g: conditions.ice.salt_g ?? 0 } : {}), room_c: conditions.room_c });
  const change = (changes: Partial<Ice>) => setIce((before) => ({ ...before, ...changes }));
  const [minute, setMinute] = useState(0);
  const { data: bath, error } = useBath(ice);
  const moment = bath?.moments.reduce((near, one) => (Math.abs(one.minute - minute) < Math.abs(near.minute - minute) ? one : near));
  return (
    <div className="grid gap-4">
      {error && (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      )}
      <div className="grid items-start gap-4 sm:grid-cols-[19rem_1fr]">
        <div className="grid gap-2">
          {moment && <Bath moment={moment} waterG={ice.ice_g + ice.water_g} saltG={ice.salt_g} />}
          {bath && moment && <Minute bath={bath} moment={moment} minute={minute} setMinute={setMinute} />}
        </div>
        <div className="grid gap-3">
          <div className="grid grid-cols-2 gap-3">
            <MassField label="Ice" grams={ice.ice_g} range={{ least: 0, most: 100_000 }} onChange={(ice_g) => change({ ice_g })} />
            <MassField label="Salt" grams={ice.salt_g} range={{ least: 0, most: 50_000 }} onChange={(salt_g) => change({ salt_g })} />
            <MassField label="Water" grams={ice.water_g} range={{ least: 0, most: 100_000 }} onChange={(water_g) => change({ water_g })} />
            <TemperatureField label="Room" celsius={ice.room_c} range={{ least: -10, most: 50 }} onChange={(room_c) => change({ room_c })} />
            <NumberField label="Watched for, h" value={ice.hours} range={{ least: 0.5, most: 48 }} onChange={(hours) => change({ hours })} />
          </div>
          {bath && (
            <p aria-live="polite">
              <b>{bath.said}</b> <Why of="bath" />
            </p>
          )}
          {bath?.mind.map((sentence) => (
            <p key={sentence} className="border-l-3 border-hot pl-2 text-sm">
              {sentence}
            </p>
          ))}
          <p className="text-sm text-muted">Crushed and stirred. Coarse salt on large pieces that nobody stirs is 3 to 8 degrees warmer: a thermometer knows better.</p>
        </div>
      </div>
      <ForThisBatch use={(load) => change({ ice_g: tens(load.ice_g), salt_g: tens(load.salt_g), water_g: 0 })} />
    </div>
  );
}

function useBath({ room_c, hours, ...ice }: Ice) {
  const asked = useDebouncedValue(JSON.stringify({ ice: { ...ice, water_c: 10 }, room_c, hours, heat_kj: 0, leak_w_k: 1.5 }));
  return useQuery({
    queryKey: ["bath", asked],
    queryFn: ({ signal }) => answer(api.POST("/bath-forecasts", { body: JSON.parse(asked) as Schemas["BathQuestion"], signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
}

function Minute({ bath, moment, minute, setMinute }: { bath: Schemas["BathOut"]; moment: Schemas["BathMoment"]; minute: number; setMinute: (minute: number) => void }) {
  const units = useUnits();
  const last = bath.moments.at(-1)?.minute ?? 0;
  return (
    <label className="grid gap-1 text-sm">
      <span>
        After {units.number(moment.minute)} min standing: <b>{units.temperature(moment.t_c)}</b>
        {bath.lasts_min !== null && <span className="text-muted"> (its ice is gone after {units.number(bath.lasts_min)} min)</span>}
      </span>
      <input type="range" min={0} max={last} step={last / 24 || 1} value={minute} onChange={(event) => setMinute(Number(event.target.value))} className="w-full accent-[var(--hot)]" />
    </label>
  );
}

/** Grams as somebody weighs ice. */
function tens(grams: number): number {
  return 10 * Math.round(grams / 10);
}

/** How much of each for this batch, in layers, to churn it or to let it harden. */
function ForThisBatch({ use }: { use: (load: Schemas["LoadOut"]) => void }) {
  const { analysis } = useReading();
  const { conditions, setConditions } = useCold();
  const units = useUnits();
  const [harden, setHarden] = useState(false);
  const asked = { mass_g: null, start_c: harden ? -5 : conditions.start_c, to_c: null, bath_c: harden ? -16 : -12, harden };
  const { data: load, error } = useForecast("load", asked, (body, signal) => answer(api.POST("/ice-loads", { body, signal })), analysis !== null);
  if (!analysis) return null;
  return (
    <section aria-labelledby="for-this-batch" className="grid gap-1.5 border-t border-line pt-3">
      <h3 id="for-this-batch">For this batch</h3>
      {error && <p role="alert">{error.message}</p>}
      {load && (
        <>
          <p>
            <b>{load.said}</b>{" "}
            <span className="text-muted">
              In {load.layers} layers, each {units.mass(tens(load.ice_g / load.layers))} of ice and {units.mass(tens(load.salt_g / load.layers))} of salt over it; the drain hole free.
            </span>
          </p>
          <div className="flex flex-wrap items-center gap-3">
            <Button
              onClick={() => {
                use(load);
                setConditions({ ice: { ice_g: Math.round(load.ice_g), salt_g: Math.round(load.salt_g), water_g: 0, water_c: 10 } });
              }}
            >
              Take these
            </Button>
            <Checkbox checked={harden} onChange={setHarden}>
              to harden it in the bucket, after churning
            </Checkbox>
          </div>
        </>
      )}
    </section>
  );
}
