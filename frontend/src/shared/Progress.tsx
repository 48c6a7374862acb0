/** A bar with a name: the library's own leaves the inner element without one. */
export function Progress({ label, percent }: { label: string; percent: number }) {
  return (
    <div
      className="progress"
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(percent)}
    >
      <div className="progress-bar" style={{ width: `${percent}%` }} />
    </div>
  );
}
