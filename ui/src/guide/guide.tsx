/** The guide beside the work: pages to read and search, open where one is. */

import { useEffect, useRef, useState } from "react";
import Markdown from "react-markdown";
import remarkGfm from "remark-gfm";
import { MOVES, useFirstSteps } from "./first-steps";
import { PAGES, search, type Page } from "./pages";
import { useGuide } from "./state";

/** A link of the guide's files leads to another place of the guide; those out of it are told, not followed. */
function GuideAnchor({ href, children }: { href?: string | undefined; children?: React.ReactNode }) {
  const show = useGuide((s) => s.show);
  const page = useGuide((s) => s.place.split("#")[0]);
  const [, file, slug] = /^([\w-]*)(?:\.md)?(?:#([\w-]*))?$/.exec(href ?? "") ?? [];
  if (file === undefined || (file === "" && !slug)) return <>{children}</>;
  const place = `${file || page}${slug ? `#${slug}` : ""}`;
  return (
    <button type="button" className="underline decoration-dotted" onClick={() => show(place)}>
      {children}
    </button>
  );
}

const PARTS = { a: GuideAnchor, img: () => null };

function FirstSteps() {
  const done = useFirstSteps((s) => s.done);
  const forget = useFirstSteps((s) => s.forget);
  return (
    <section aria-label="Five moves" className="plate my-2 p-2.5">
      <ol className="grid gap-1.5">
        {MOVES.map((one, index) => {
          const was = done.includes(one.move);
          return (
            <li key={one.move} data-move={one.move} data-done={was} className="grid grid-cols-[20px_1fr] gap-x-2">
              <span aria-hidden className={`figures font-semibold ${was ? "text-good" : "text-quiet"}`}>
                {was ? "✓" : index + 1}
              </span>
              <span>
                <b className="font-semibold">{one.does}</b>
                {was ? <span className="text-good"> · done</span> : <span className="block text-quiet">{one.how}</span>}
              </span>
            </li>
          );
        })}
      </ol>
      {done.length > 0 && (
        <button type="button" className="mt-2 text-quiet underline decoration-dotted" onClick={forget}>
          {done.length === MOVES.length ? "All done. Begin again" : "Begin again"}
        </button>
      )}
    </section>
  );
}

function PageText({ page, slug }: { page: Page; slug: string }) {
  const inside = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const at = slug ? inside.current?.querySelector(`[data-section="${slug}"]`) : inside.current;
    at?.scrollIntoView({ block: "start" });
  }, [page, slug]);
  return (
    <div ref={inside} className="guide-text">
      {page.sections.map((section, index) => (
        <section key={section.slug} data-section={section.slug}>
          {index === 0 ? <h2>{section.title}</h2> : <h3>{section.title}</h3>}
          <Markdown remarkPlugins={[remarkGfm]} components={PARTS}>
            {section.text}
          </Markdown>
          {index === 0 && page.name === "first-steps" && <FirstSteps />}
        </section>
      ))}
    </div>
  );
}

export function Guide() {
  const { place, side, show, close, turnSide } = useGuide();
  const [wanted, setWanted] = useState("");
  const [name = "", slug = ""] = place.split("#");
  const page = PAGES.find((one) => one.name === name) ?? PAGES[0];
  const found = search(PAGES, wanted);
  const seek = useRef<HTMLInputElement>(null);
  const whole = useRef<HTMLElement>(null);
  useEffect(() => seek.current?.focus(), []);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      // what was pressed last may be gone, and the focus with it
      const { activeElement } = document;
      const here = activeElement === document.body || whole.current?.contains(activeElement);
      if (event.key === "Escape" && here) close();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [close]);
  return (
    <aside
      ref={whole}
      aria-label="Guide"
      className={`plate absolute inset-y-0 z-30 flex w-[404px] flex-col ${side === "right" ? "right-0" : "left-0"}`}
      onKeyDown={(event) => {
        if (event.key !== "Escape") event.stopPropagation();
      }}
    >
      <div className="flex items-center gap-2 border-b border-rule p-2">
        <input
          ref={seek}
          className="field"
          type="search"
          placeholder="Search the guide"
          aria-label="Search the guide"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
        <button type="button" className="key" title="Move the guide to the other side" onClick={turnSide}>
          {side === "right" ? "To the left" : "To the right"}
        </button>
        <button type="button" className="key" title="Close (Esc)" onClick={close}>
          Close
        </button>
      </div>
      {wanted.trim() !== "" ? (
        <ul aria-label="Found in the guide" className="min-h-0 flex-1 overflow-y-auto p-2">
          {found.length === 0 && (
            <li className="p-1.5 text-quiet">Nothing in the guide says this. Try another word.</li>
          )}
          {found.map((one) => (
            <li key={one.place}>
              <button
                type="button"
                className="block w-full p-1.5 text-left hover:bg-sheet"
                onClick={() => {
                  setWanted("");
                  show(one.place);
                }}
              >
                <b className="font-semibold">{one.title}</b>
                {one.page !== one.title && <span className="text-quiet"> · {one.page}</span>}
                <span className="block text-quiet">{one.around}</span>
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <>
          <label className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
            <span className="text-quiet">Page</span>
            <select
              className="field"
              aria-label="Page of the guide"
              value={page?.name}
              onChange={(event) => show(event.target.value)}
            >
              {PAGES.map((one) => (
                <option key={one.name} value={one.name}>
                  {one.title}
                </option>
              ))}
            </select>
          </label>
          <div className="min-h-0 flex-1 overflow-y-auto px-3 py-2" tabIndex={0} role="region" aria-label="Text">
            {page && <PageText page={page} slug={slug} />}
          </div>
        </>
      )}
    </aside>
  );
}
