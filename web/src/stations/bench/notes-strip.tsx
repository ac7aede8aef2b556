import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { type RefObject, useRef, useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { notesQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { inputClass } from "../../ui/field";
import { Select } from "../../ui/select";
import { Waiting } from "../../ui/waiting";
import { useBenchActions, useDraft, useReading } from "./bench-context";

const OF_MIX = "mix";
const OF_ALL = "all";

/** What this kitchen has noticed: of the mix, of what goes into it, and of everything it makes. */
export function NotesStrip() {
  const { mix, toggleNotes: close } = useBenchActions();
  const notes = useQuery({ ...notesQuery(mix.id), refetchOnMount: "always" });
  const field = useRef<HTMLTextAreaElement>(null);
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- Escape closes it from anywhere inside
    <aside
      aria-labelledby="notes"
      onKeyDown={(event) => event.key === "Escape" && close()}
      className="panel not-on-paper fixed inset-y-2 right-2 z-10 flex w-80 max-w-[calc(100vw-1rem)] flex-col gap-3 p-4 shadow-lg"
    >
      <div className="flex items-baseline">
        <h2 id="notes">Our notes</h2>
        <button type="button" aria-label="Close the notes" onClick={close} className="ml-auto rounded-button p-1 text-muted hover:bg-steel">
          <X size={16} aria-hidden />
        </button>
      </div>
      <NewNote field={field} />
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Waiting query={notes}>
          {(all) => (
            <ul className="grid gap-3">
              {all.map((note) => (
                <NoteItem key={note.id} note={note} removed={() => field.current?.focus()} />
              ))}
              {all.length === 0 && <li className="text-muted">Nothing noted yet. What you write here is shown with this mix from now on.</li>}
            </ul>
          )}
        </Waiting>
      </div>
    </aside>
  );
}

function NewNote({ field }: { field: RefObject<HTMLTextAreaElement | null> }) {
  const { mix } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const client = useQueryClient();
  const [text, setText] = useState("");
  const [about, setAbout] = useState(OF_MIX);
  const write = useMutation({
    mutationFn: () => {
      const ingredient = about === OF_MIX || about === OF_ALL ? null : about;
      return answer(api.POST("/notes", { body: { text, mix: about === OF_MIX ? mix.id : null, ingredient } }));
    },
    onSuccess: () => {
      setText("");
      return client.invalidateQueries(notesQuery(mix.id));
    },
  });
  const ingredients = new Map(draft.lines.map((line) => [line.ingredient, reading?.lines[line.key]?.name ?? line.ingredient]));
  const subjects = [...ingredients].map(([key, name]) => ({ key, name: `${name}, wherever it goes in` }));
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        write.mutate();
      }}
    >
      <textarea
        ref={field}
        aria-label="New note"
        autoFocus
        rows={3}
        maxLength={1000}
        required
        value={text}
        placeholder="What you noticed and want to find again"
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && (event.ctrlKey || event.metaKey) && write.mutate()}
        className={inputClass}
      />
      <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-2">
        <Select label="About" hideLabel value={about} options={[{ key: OF_MIX, name: "this mix" }, { key: OF_ALL, name: "everything made here" }, ...subjects]} onChange={setAbout} />
        <Button type="submit" kind="dark" disabled={write.isPending || text.trim() === ""}>
          Note it
        </Button>
      </div>
      {write.error && <p role="alert">{write.error.message}</p>}
    </form>
  );
}

function NoteItem({ note, removed }: { note: Schemas["NoteOut"]; removed: () => void }) {
  const { mix } = useBenchActions();
  const client = useQueryClient();
  const units = useUnits();
  const remove = useMutation({
    mutationFn: () => answer(api.DELETE("/notes/{note_id}", { params: { path: { note_id: note.id } } })),
    onSuccess: () => {
      removed(); // the button that was pressed goes with its note
      return client.invalidateQueries(notesQuery(mix.id));
    },
  });
  return (
    <li className="border-t border-line pt-2">
      <p className="whitespace-pre-wrap">{note.text}</p>
      <p className="flex items-center gap-2 text-sm text-muted">
        {note.mix === null ? `${note.about}, ` : ""}
        {units.day(note.written_at)}
        {note.written_by && `, ${note.written_by}`}
        <button type="button" aria-label={`Remove the note “${note.text.slice(0, 30)}”`} onClick={() => remove.mutate()} className="ml-auto underline">
          remove
        </button>
      </p>
      {remove.error && <p role="alert">{remove.error.message}</p>}
    </li>
  );
}
