import { useState } from "react";
import { Link, useParams } from "react-router";

import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { PressesOfOthers } from "./presses-of-others";
import { LatePresses } from "../batches/late-presses";
import { BigButton } from "./big-button";
import { HandOver } from "./hand-over";
import { useInstruments } from "./instruments";
import { PartView } from "./part-view";
import { isDone } from "./replay";
import { StepList } from "./step-list";
import { StepView } from "./step-view";
import { Timers } from "./timers";
import { type Making, useMaking, useMakingWork, useWork, WorkContext } from "./use-making";
import { useWakeLock } from "./wake-lock";

const ON_RAIL = "grid min-h-[56px] place-items-center rounded-button border border-white/30 px-4 text-white";

type View = "step" | "part" | "hand-over";

/** Make mode: what now, at two metres, with wet hands. */
export function MakePage() {
  const id = Number(useParams().batchId);
  const making = useMaking(id);
  return <Waiting query={making}>{(found) => <AtWork key={found.id} making={found} />}</Waiting>;
}

function AtWork({ making }: { making: Making }) {
  const work = useMakingWork(making);
  const [view, setView] = useState<View>("step");
  const [listed, setListed] = useState(false);
  const list = (onChoose?: () => void) => (
    <StepList
      handing={view === "hand-over"}
      handOver={() => {
        setView("hand-over");
        onChoose?.();
      }}
      onChoose={() => {
        if (view === "hand-over") setView("step");
        onChoose?.();
      }}
    />
  );
  return (
    <WorkContext value={work}>
      <div className="flex min-h-screen flex-col">
        <Head view={view} setView={setView} openList={() => setListed(true)} />
        <div className="flex flex-1">
          <aside className="sticky top-0 max-h-screen w-64 shrink-0 overflow-y-auto border-r border-line bg-panel max-lg:hidden">{list()}</aside>
          <div className="grid min-w-0 flex-1 content-start gap-4 p-4 lg:px-8">
            <Notices />
            <Timers />
            {view === "step" && <StepView />}
            {view === "part" && <PartView />}
            {view === "hand-over" && <HandOver />}
          </div>
        </div>
      </div>
      <SheetDialog open={listed} onOpenChange={setListed} title="Steps" wide>
        {list(() => setListed(false))}
      </SheetDialog>
    </WorkContext>
  );
}

type Views = { view: View; setView: (view: View) => void; openList: () => void };

function Head({ view, setView, openList }: Views) {
  const { making, waiting, offline, state } = useWork();
  const done = making.steps.filter((step) => isDone(step, state)).length;
  const units = useUnits();
  const runs = making.runs > 1 ? `, ${making.runs} runs` : "";
  return (
    <header className="flex flex-wrap items-center gap-x-4 gap-y-1 bg-rail px-4 py-2 text-rail-text">
      <div className="mr-auto">
        <p className="font-name text-xl font-bold text-white">{making.mix_name}</p>
        <p>
          Batch {making.number}, {unbroken(units.mass(making.mass_g))}
          {making.machine_name ? ` · ${making.machine_name}${runs}` : ""}
        </p>
      </div>
      <div className="text-right">
        <p role="status" className={waiting > 0 || offline ? "font-semibold text-white" : ""}>
          {sendingSaid(waiting, offline)}
        </p>
        <InstrumentsSaid />
      </div>
      <button type="button" className={`${ON_RAIL} lg:hidden`} onClick={openList}>
        {done} of {making.steps.length}
      </button>
      <button type="button" className={ON_RAIL} aria-pressed={view === "part"} onClick={() => setView(view === "part" ? "step" : "part")}>
        {view === "part" ? "One step" : "Whole part"}
      </button>
      <Link to={`/batches/${making.id}`} className={ON_RAIL}>
        Sheet
      </Link>
      <Link to="/make" className={ON_RAIL}>
        All batches
      </Link>
    </header>
  );
}

const SHORT: Record<string, string> = { scale: "scale", "fine-scale": "fine scale", probe: "probe", "batch-freezer": "freezer" };

/** Which instruments are on, and which has gone. */
function InstrumentsSaid() {
  const instruments = useInstruments();
  if (instruments.length === 0) return null;
  const said = instruments.map(({ kind, connected }) => `${SHORT[kind] ?? kind} ${connected ? "on" : "off"}`);
  return <p className="text-sm max-sm:hidden">{said.join(" · ").replace(/^./, (first) => first.toUpperCase())}</p>;
}

function sendingSaid(waiting: number, offline: boolean): string {
  if (offline) return `No connection: ${waiting === 1 ? "1 press is" : `${waiting} presses are`} kept on this device`;
  return waiting > 0 ? "Sending…" : "All is noted";
}

/** What must be seen whatever is being done: that it is paused or closed, that the mix was changed, what was refused. */
function Notices() {
  const { making, state, refused, forgetRefused, press } = useWork();
  const awake = useWakeLock();
  return (
    <>
      {state.paused !== null && (
        <Notice said={state.paused ? `Paused until ${state.paused}.` : "Paused."} press="Go on" onPress={() => press({ kind: "resumed" })} />
      )}
      {state.fault && <Notice said={state.fault} {...(state.gap ? { press: "Take it back", onPress: () => press({ kind: "gap", name: "" }) } : {})} />}
      {making.faults.length > 0 && <Notice said={`These steps need your eye. ${making.faults.join(" ")}`} />}
      <PressesOfOthers />
      <LatePresses late={state.late} settle={(kind, late) => press({ kind, late })} />
      {state.closed && <Notice said={state.closed === "finished" ? "This batch is closed. What is noted here is still kept." : "This batch was given up."} />}
      {refused.length > 0 && <Notice said={`Not noted: ${refused.map((one) => one.sentence).join(" ")}`} press="Seen" onPress={forgetRefused} />}
      {making.mix_changed && <p className="text-muted">The mix was changed since. This batch keeps revision {making.revision}, as it was begun.</p>}
      {!awake && <p className="text-muted">This browser lets the screen sleep: set it to stay on while you work.</p>}
    </>
  );
}

function Notice({ said, press, onPress }: { said: string; press?: string; onPress?: () => void }) {
  return (
    <div role="alert" className="panel flex flex-wrap items-center justify-between gap-3 border-2 border-hot p-3 text-lg font-semibold">
      <p>{said}</p>
      {press && <BigButton onClick={onPress}>{press}</BigButton>}
    </div>
  );
}
