import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useReading } from "../bench-context";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";
import { useDebouncedValue } from "../../../shared/use-debounced-value";
import { type RunConditions, type Stays, useCold } from "./cold-context";

type Body = ReturnType<typeof bodyOf>;

/**
 * A forecast of the draft that was read last: it is asked for once the answer to an edit has come and the hands rest, so
 * that it never stands in front of one; a newer edit takes its place.
 */
export function useForecast<Asked extends object, Found>(what: string, asked: Asked, ask: (body: Body & Asked, signal: AbortSignal) => Promise<Found>, wanted = true) {
  const read: Draft | undefined = useDebouncedValue(useReading().reading?.of);
  const rested = useDebouncedValue(JSON.stringify(asked));
  return useQuery({
    queryKey: ["analysis", what, read && writtenOf(read), rested],
    queryFn: ({ signal }) => ask({ ...bodyOf(read!), ...(JSON.parse(rested) as Asked) }, signal),
    enabled: wanted && read !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
}

function run(conditions: RunConditions) {
  const { start_c, room_c, prefreeze_h, gel_frozen_pct = null, runs = null, programme = null, ice = null } = conditions;
  return { start_c, room_c, prefreeze_h, gel_frozen_pct, runs, programme, ice };
}

/** The run in the machine that the mix is meant for. */
export function useRunForecast(wanted: boolean) {
  const { conditions } = useCold();
  return useForecast("run", run(conditions), (body, signal) => answer(api.POST("/run-forecasts", { body, signal })), wanted);
}

/** The mix in each of the kitchen's machines. */
export function useMachineRuns() {
  const { conditions } = useCold();
  return useForecast("machines", { ...run(conditions), runs: null, programme: null }, (body, signal) => answer(api.POST("/machine-comparisons", { body, signal })));
}

/** The mix in its tub: in the cold, then out of it, and back again where that is asked. */
export function useTubForecast(wanted: boolean) {
  const { stays, vessel, conditions } = useCold();
  const drawn = useRunForecast(wanted).data;
  const start_c = drawn?.drawn ? Math.round(10 * drawn.t_c) / 10 : -5;
  const { name: _, ...shape } = vessel;
  const asked = { vessel: shape, start_c, wall_c: shape.wall_g ? conditions.room_c : null, emptying_min: stays.emptying_min, ice: conditions.ice ?? null, stays: staysOf(stays) };
  return useForecast("tub", asked, (body, signal) => answer(api.POST("/tub-forecasts", { body, signal })), wanted);
}

function staysOf({ cold, out, back }: Stays): Schemas["Stay"][] {
  return back ? [cold, out, { ...cold, minutes: 600 }] : [cold, out];
}
