import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useRef, useState } from "react";

import { answer, api } from "../../shared/api/client";
import { notesQuery } from "../../shared/api/queries";
import { day } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { inputClass } from "../../ui/field";
import { Waiting } from "../../ui/waiting";
import type { Draft } from "./draft/draft";
import type { DraftReading } from "./draft/use-analysis";

const OF_MIX = "mix";
const OF_ALL = "all";

/** What this kitchen has noticed: of the mix, of what goes into it, and of everything it makes. */
export function NotesStrip({ mixId, draft, reading, close }: { mixId: number; draft: Draft; reading: DraftReading | undefined; close: () => void }) {
  const notes = useQuery({ ...notesQuery(mixId), refetchOnMount: "always" });
  const client = useQueryClient();
  const field = useRef<HTMLTextAreaElement>(null);
  const [text, setText] = useState("");
  const [about, setAbout] = useState(OF_MIX);
  const again = () => client.invalidateQueries(notesQuery(mixId));
  const write = useMutation({
    mutationFn: () => {
      const ingredient = about === OF_MIX || about === OF_ALL ? null : about;
      return answer(api.POST("/notes", { body: { text, mix: about === OF_MIX ? mixId : null, ingredient } }));
    },
    onSuccess: () => {
      setText("");
      return again();
    },
  });
  const remove = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/notes/{note_id}", { params: { path: { note_id: id } } })),
    onSuccess: () => {
      field.current?.focus(); // the button that was pressed goes with its note
      return again();
    },
  });
  const ingredients = new Map(draft.lines.map((line) => [line.ingredient, reading?.lines[line.key]?.name ?? line.ingredient]));
  return (
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
        <div className="flex gap-2">
          <select aria-label="About" value={about} onChange={(event) => setAbout(event.target.value)} className={inputClass}>
            <option value={OF_MIX}>this mix</option>
            <option value={OF_ALL}>everything made here</option>
            {[...ingredients].map(([slug, name]) => (
              <option key={slug} value={slug}>
                {name}, wherever it goes in
              </option>
            ))}
          </select>
          <Button type="submit" kind="dark" disabled={write.isPending || text.trim() === ""}>
            Note it
          </Button>
        </div>
        {(write.error ?? remove.error) && <p role="alert">{(write.error ?? remove.error)?.message}</p>}
      </form>
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Waiting query={notes}>
          {(all) => (
            <ul className="grid gap-3">
              {all.map((note) => (
                <li key={note.id} className="border-t border-line pt-2">
                  <p className="whitespace-pre-wrap">{note.text}</p>
                  <p className="flex items-center gap-2 text-sm text-muted">
                    {note.mix === null ? `${note.about}, ` : ""}
                    {day(note.written_at)}
                    {note.written_by && `, ${note.written_by}`}
                    <button type="button" aria-label={`Remove the note “${note.text.slice(0, 30)}”`} onClick={() => remove.mutate(note.id)} className="ml-auto underline">
                      remove
                    </button>
                  </p>
                </li>
              ))}
              {all.length === 0 && <li className="text-muted">Nothing noted yet. What you write here is shown with this mix from now on.</li>}
            </ul>
          )}
        </Waiting>
      </div>
    </aside>
  );
}
