/** The mark: a coil of syrup in one stroke. */
export function Mark({ size = 26 }: { size?: number }) {
  return (
    <svg viewBox="0 0 32 32" width={size} height={size} aria-hidden="true">
      <path
        d="M16 16c0-2 3-2 3 0 0 4-7 4-7-1 0-6 11-6 11 2 0 9-15 9-15-2C8 4 27 3 27 16"
        fill="none"
        stroke="#ff8a4f"
        strokeWidth="2.6"
        strokeLinecap="round"
      />
    </svg>
  );
}
