import { X } from "lucide-react";
import { useState } from "react";

import { readNumber } from "../../../shared/format/numbers";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Checkbox } from "../../../ui/checkbox";
import { inputClass } from "../../../ui/field";
import { Select } from "../../../ui/select";
import { useDraft, useReading } from "../bench-context";
import { useBalance } from "./use-balance";

/** Lines whose sum stays between two shares of the mix, by their keys. */
export type Share = { kind: "share"; keys: string[]; min: number; max: number };

/** Two lines that keep the ratio they have, by their keys. */
export type Ratio = { kind: "ratio"; key: string; to: string };

export type Rule = Share | Ratio;

/** Rules that hold for every balance of this mix: sums of lines, and ratios that stay. */
export function Rules() {
  const { rules, setRules } = useBalance();
  const names = useLineNames();
  const units = useUnits();
  const [adding, setAdding] = useState<Rule["kind"] | null>(null);
  const said = (rule: Rule) =>
    rule.kind === "share"
      ? `${rule.keys.map((key) => names.get(key)).join(" + ")}: ${units.number(rule.min)} to ${units.number(rule.max)} %`
      : `${names.get(rule.key)} to ${names.get(rule.to)} as now`;

  function add(rule: Rule) {
    setRules([...rules, rule]);
    setAdding(null);
  }

  return (
    <div className="grid gap-1 pt-1 text-sm">
      {rules.length > 0 && (
        <ul aria-label="Rules" className="grid gap-0.5">
          {rules.map((rule, at) => (
            <li key={at} className="flex items-center gap-2">
              <span className="min-w-0 truncate">{said(rule)}</span>
              <button type="button" aria-label={`No rule: ${said(rule)}`} onClick={() => setRules(rules.filter((_, index) => index !== at))} className="rounded-button p-1 text-muted hover:bg-steel">
                <X size={14} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
      )}
      <p className="flex flex-wrap gap-x-4">
        <button type="button" aria-expanded={adding === "share"} onClick={() => setAdding(adding === "share" ? null : "share")} className="underline">
          lines together…
        </button>
        <button type="button" aria-expanded={adding === "ratio"} onClick={() => setAdding(adding === "ratio" ? null : "ratio")} className="underline">
          keep a ratio…
        </button>
      </p>
      {adding === "share" && <ShareForm names={names} add={add} />}
      {adding === "ratio" && <RatioForm names={names} add={add} />}
    </div>
  );
}

function useLineNames(): Map<string, string> {
  const { draft } = useDraft();
  const { reading } = useReading();
  return new Map(draft.lines.map(({ key, ingredient }) => [key, reading?.lines[key]?.name ?? ingredient]));
}

type FormProps = { names: Map<string, string>; add: (rule: Rule) => void };

function ShareForm({ names, add }: FormProps) {
  const [keys, setKeys] = useState<string[]>([]);
  const [least, setLeast] = useState("");
  const [most, setMost] = useState("");
  const [min, max] = [least.trim() === "" ? 0 : readNumber(least), most.trim() === "" ? 100 : readNumber(most)];
  const wrong = min === null || max === null || min < 0 || max > 100 || min > max;
  const asked = least.trim() !== "" || most.trim() !== "";
  return (
    <form
      aria-label="Lines together"
      className="grid gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong && asked && keys.length > 0) add({ kind: "share", keys, min, max });
      }}
    >
      <div className="grid grid-cols-2 gap-x-3">
        {[...names].map(([key, name]) => (
          <Checkbox key={key} checked={keys.includes(key)} onChange={(on) => setKeys(on ? [...keys, key] : keys.filter((one) => one !== key))} className="text-sm">
            <span className="truncate">{name}</span>
          </Checkbox>
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <input aria-label="At least, %" placeholder="at least %" inputMode="decimal" maxLength={6} value={least} onChange={(event) => setLeast(event.target.value)} className={`${inputClass} w-24!`} />
        <input aria-label="At most, %" placeholder="at most %" inputMode="decimal" maxLength={6} value={most} onChange={(event) => setMost(event.target.value)} className={`${inputClass} w-24!`} />
        <Button type="submit" disabled={wrong || !asked || keys.length === 0}>
          Hold
        </Button>
      </div>
      {wrong && (
        <p role="alert" className="text-hot">
          Shares are from 0 to 100 %, the least no more than the most.
        </p>
      )}
    </form>
  );
}

function RatioForm({ names, add }: FormProps) {
  const options = [...names].map(([key, name]) => ({ key, name }));
  const [key, setKey] = useState(options[0]?.key ?? "");
  const [to, setTo] = useState(options[1]?.key ?? "");
  return (
    <form
      aria-label="Keep a ratio"
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (key !== to) add({ kind: "ratio", key, to });
      }}
    >
      <div className="w-36">
        <Select label="One line" hideLabel value={key} options={options} onChange={setKey} />
      </div>
      to
      <div className="w-36">
        <Select label="The other line" hideLabel value={to} options={options} onChange={setTo} />
      </div>
      <Button type="submit" disabled={key === to || !to}>
        Hold
      </Button>
    </form>
  );
}
