/** Choose a file of this computer. */
export function FileField({ label, accept, choose }: { label: string; accept: string; choose: (file: File | null) => void }) {
  return (
    <label className="flex flex-wrap items-center gap-x-3 gap-y-1">
      {label}
      <input
        type="file"
        accept={accept}
        onChange={(event) => choose(event.target.files?.[0] ?? null)}
        className="text-sm text-muted file:mr-3 file:rounded-button file:border file:border-solid file:border-line file:bg-panel file:px-3 file:py-1.5 file:text-base file:font-semibold file:text-ink hover:file:bg-steel"
      />
    </label>
  );
}
