/** What is looked for: words, category, colour, maps, size, seams, collection; and how the wall is sorted. */

import { CATEGORIES, ROLE_TITLES, ROLES, type Wish } from "../../api/stock";
import { NO_WISH, useStock } from "../../state/stock";

const SORTS: readonly { value: Wish["sort"]; label: string }[] = [
  { value: "title", label: "by title" },
  { value: "newest", label: "newest first" },
  { value: "size", label: "largest first" },
  { value: "seam", label: "fewest seams first" },
  { value: "repetition", label: "least repetition first" },
  { value: "tile", label: "by metres per repeat" },
];
const TONES: readonly string[] = ["dark", "grey", "pale", "brown", "red", "yellow", "green", "blue"];
const SIZES = [0, 512, 1024, 2048, 4096] as const;

function Choice({
  label,
  count,
  on,
  onChoose,
}: {
  label: string;
  count?: number | undefined;
  on: boolean;
  onChoose: () => void;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onChoose}
      className={`flex min-h-6 w-full items-center justify-between px-1.5 text-left ${on ? "bg-ink text-raised" : "hover:bg-raised"}`}
    >
      <span>{label}</span>
      {count !== undefined && <span className={`figures text-xs ${on ? "" : "text-quiet"}`}>{count}</span>}
    </button>
  );
}

export function WishPanel() {
  const { wish, found, look } = useStock();
  const categories = CATEGORIES.filter((one) => found?.categories[one] || wish.category === one);
  const tones = TONES.filter((one) => found?.tones[one] || wish.tone === one);
  const collections = Object.entries(found?.collections ?? {});
  const limited =
    JSON.stringify({ ...wish, sort: "title", aside: false }) !== JSON.stringify({ ...NO_WISH, aside: false });
  return (
    <aside aria-label="What is looked for" className="flex min-h-0 flex-col overflow-y-auto border-r border-rule p-3">
      <input
        type="search"
        className="field"
        aria-label="Search the stock"
        placeholder="Search title, tag, note"
        value={wish.text}
        onChange={(event) => look({ text: event.target.value })}
        onKeyDown={(event) => event.key === "Escape" && look({ text: "" })}
      />
      <div className="mt-2 flex items-center justify-between gap-2">
        <select
          className="field w-auto"
          aria-label="Sort"
          value={wish.sort}
          onChange={(event) => look({ sort: SORTS.find((one) => one.value === event.target.value)?.value ?? "title" })}
        >
          {SORTS.map((one) => (
            <option key={one.value} value={one.value}>
              {one.label}
            </option>
          ))}
        </select>
        {limited && (
          <button
            type="button"
            className="key"
            onClick={() => look({ ...NO_WISH, sort: wish.sort, aside: wish.aside })}
          >
            Show all
          </button>
        )}
      </div>
      <h2 className="heading mt-3 mb-1">Category</h2>
      {categories.map((one) => (
        <Choice
          key={one}
          label={one}
          count={found?.categories[one]}
          on={wish.category === one}
          onChoose={() => look({ category: wish.category === one ? "" : one })}
        />
      ))}
      {tones.length > 0 && <h2 className="heading mt-3 mb-1">Colour</h2>}
      <div className="grid grid-cols-2">
        {tones.map((one) => (
          <Choice
            key={one}
            label={one}
            count={found?.tones[one]}
            on={wish.tone === one}
            onChoose={() => look({ tone: wish.tone === one ? "" : one })}
          />
        ))}
      </div>
      {collections.length > 0 && <h2 className="heading mt-3 mb-1">Collection</h2>}
      {collections.map(([one, count]) => (
        <Choice
          key={one}
          label={one}
          count={count}
          on={wish.collection === one}
          onChoose={() => look({ collection: wish.collection === one ? "" : one })}
        />
      ))}
      <h2 className="heading mt-3 mb-1">Has maps</h2>
      <div className="grid grid-cols-2">
        {ROLES.map((one) => (
          <label key={one} className="flex items-baseline gap-1.5">
            <input
              type="checkbox"
              className="accent-ink"
              checked={wish.roles.includes(one)}
              onChange={(event) =>
                look({ roles: event.target.checked ? [...wish.roles, one] : wish.roles.filter((role) => role !== one) })
              }
            />
            {ROLE_TITLES[one]}
          </label>
        ))}
      </div>
      <div className="mt-3 grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1">
        <label htmlFor="least-px">At least</label>
        <select
          id="least-px"
          className="field"
          value={wish.leastPx}
          onChange={(event) => look({ leastPx: Number(event.target.value) })}
        >
          {SIZES.map((px) => (
            <option key={px} value={px}>
              {px === 0 ? "any size" : `${px} px`}
            </option>
          ))}
        </select>
        <label htmlFor="seam-wish">Seams</label>
        <select
          id="seam-wish"
          className="field"
          value={wish.seam}
          onChange={(event) =>
            look({
              seam: event.target.value === "seamless" || event.target.value === "shows" ? event.target.value : "",
            })
          }
        >
          <option value="">any</option>
          <option value="seamless">none to be seen</option>
          <option value="shows">one shows</option>
        </select>
      </div>
      <label className="mt-3 flex items-baseline gap-1.5">
        <input
          type="checkbox"
          className="accent-ink"
          checked={wish.aside}
          onChange={(event) => look({ aside: event.target.checked })}
        />
        Sets that were set aside
      </label>
    </aside>
  );
}
