import { memo } from "react";
import { Link } from "react-router";

import { useKitchen } from "../../shared/api/kitchen";
import { useVocabulary } from "../../shared/api/vocabulary";
import { Button, Key } from "../../ui/button";
import { Menu, MenuCheck, MenuLine } from "../../ui/menu";
import { Select } from "../../ui/select";
import { useBenchActions, useComparison, useDraft } from "./bench-context";
import { typing } from "./lines/typing";
import { MixMenu } from "./mix-menu";

/** The mix's name and style, what it goes on from, whether it is kept, and what can be done with the whole of it. */
export function MixHead() {
  const { edit, make, toggleNotes } = useBenchActions();
  const { draft, making } = useDraft();
  return (
    <header className="not-on-paper flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3">
      <Link to="/bench" className="inline-flex min-h-[24px] items-center text-sm text-muted underline">
        Mixes
      </Link>
      <h1 className="min-w-0">
        <input
          aria-label="Name of the mix"
          value={draft.name}
          maxLength={200}
          onChange={(event) => edit({ kind: "name", name: event.target.value })}
          {...typing(edit)}
          className="field-sizing-content max-w-[22rem] min-w-24 rounded-button border border-transparent px-1 font-name text-2xl font-bold hover:border-line"
        />
      </h1>
      <Style style={draft.style ?? ""} />
      <ForWhom />
      <BasedOn />
      <div className="ml-auto flex items-center gap-x-3">
        <SyncNote />
        <button type="button" onClick={toggleNotes} className="text-sm text-muted underline">
          notes <Key>N</Key>
        </button>
        <MixMenu />
        <Button kind="hot" onClick={make} disabled={making}>
          Make it
          <span className="max-xl:hidden">
            <Key>M</Key>
          </span>
        </Button>
      </div>
    </header>
  );
}

/** What it is to be; drawn anew only when that is another. */
const Style = memo(function Style({ style }: { style: string }) {
  const { styles } = useVocabulary();
  const { edit } = useBenchActions();
  return (
    <div className="w-40">
      <Select label="Style" hideLabel value={style} options={[{ key: "", name: "no style chosen" }, ...styles]} onChange={(now) => edit({ kind: "style", style: now || null })} />
    </div>
  );
});

/** The revision that the mix goes on from; it opens all of them. */
function BasedOn() {
  const { ask } = useBenchActions();
  const { basedOn } = useDraft().draft;
  const { based } = useComparison();
  return (
    <button type="button" onClick={() => ask({ what: "revisions" })} className="max-w-56 truncate text-sm text-muted underline">
      {basedOn === null ? (
        "no revision"
      ) : (
        <>
          <span className="max-xl:hidden">from revision </span>
          <span className="xl:hidden">revision </span>
          {basedOn}
          {based && <span className="max-xl:hidden"> · {based.name}</span>}
        </>
      )}
    </button>
  );
}

const WITHOUT = "without:";

function spokenWithout(key: string): string {
  return `without ${key.slice(WITHOUT.length).replaceAll("-", " ")}`;
}

/** Who must be able to eat it: restrictions of this mix, beside those that hold for the whole kitchen. */
function ForWhom() {
  const { restrictions } = useVocabulary();
  const { restrictions: always } = useKitchen();
  const { edit } = useBenchActions();
  const { restrictions: chosen } = useDraft().draft;
  const out = chosen.filter((key) => key.startsWith(WITHOUT));
  const names = restrictions.filter(({ key }) => chosen.includes(key) || always.includes(key)).map(({ name }) => name);
  names.push(...out.map(spokenWithout));
  const label = names.length > 0 ? names.join(", ") : "no restrictions";
  const without = (key: string) => edit({ kind: "restrictions", restrictions: chosen.filter((other) => other !== key) });
  return (
    <Menu label={`For whom: ${label}`} trigger={<span className="max-w-60 truncate">{label}</span>} plain>
      <MenuLine>This mix must be</MenuLine>
      {restrictions.map(({ key, name }) => (
        <MenuCheck
          key={key}
          checked={chosen.includes(key) || always.includes(key)}
          onChange={(on) => (on ? edit({ kind: "restrictions", restrictions: [...chosen, key] }) : without(key))}
        >
          {name}
          {always.includes(key) && <span className="text-sm text-muted">everything here is</span>}
        </MenuCheck>
      ))}
      {out.map((key) => (
        <MenuCheck key={key} checked onChange={() => without(key)}>
          {spokenWithout(key)}
        </MenuCheck>
      ))}
    </Menu>
  );
}

const NOTES = {
  saved: "saved",
  saving: "saving…",
  offline: "no connection: kept in this browser",
  refused: "not saved",
  conflict: "not saved",
};

function SyncNote() {
  const { state } = useDraft().synced;
  const calm = state === "saved" || state === "saving";
  return (
    <span role="status" className={`max-w-34 text-right text-sm leading-tight ${calm ? "text-muted" : "text-hot"}`}>
      {NOTES[state]}
    </span>
  );
}
