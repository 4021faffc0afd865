/** Whether a new site begins with layers of the stock where such material lies, or bare. */

export function BeginEmpty({ empty, onChange }: { empty: boolean; onChange: (empty: boolean) => void }) {
  return (
    <label className="mt-3 flex items-center gap-1.5">
      <input
        type="checkbox"
        className="accent-ink"
        checked={empty}
        onChange={(event) => onChange(event.target.checked)}
      />
      Begin empty
      <span className="text-quiet">
        {empty ? "Bare ground: lay every layer yourself." : "Else it begins as a place, of what the stock has."}
      </span>
    </label>
  );
}
