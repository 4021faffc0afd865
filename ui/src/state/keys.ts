/** Keys of the whole application, in one list: what the help shows is what works. */

export interface Key {
  keys: string;
  does: string;
}

export const KEYS: Key[] = [
  { keys: "Ctrl+Z", does: "undo; in Stock the last change of the chosen set" },
  { keys: "Ctrl+Shift+Z", does: "redo" },
  { keys: "hold B", does: "show the site as it was before the last edit" },
  { keys: "hold W", does: "in Cover: show the ground without the selected wear, or without any" },
  { keys: "hold C", does: "in Cover: show the snapshot that is compared with, from where you look" },
  { keys: "hold O", does: "in Cover: show the site in the other light, one that is kept" },
  { keys: "G", does: "in Cover: grazing light, and back" },
  { keys: "M", does: "next looking mode; in Ground the next measure" },
  { keys: "P / T / F / L", does: "in Cover: probe, paint, move a texture, move a path; Esc turns again" },
  {
    keys: "Shift, [ and ]",
    does: "while painting: straight lines, a smaller or larger brush; while moving a texture Shift turns it",
  },
  { keys: "Pick one, Esc", does: "in Things: click a thing to pick it, then to put it elsewhere; Esc lets go" },
  { keys: "D / Shift+D", does: "in Things: drop the selected thing to the ground; a copy of it beside it" },
  { keys: "I", does: "in Cover: show the selected layer alone" },
  { keys: "J / K", does: "select the layer below / above" },
  { keys: "Alt+↑ / Alt+↓", does: "move the selected layer, wear or step up / down (in its list)" },
  { keys: "Arrow keys", does: "on a number: step it; on a picture: turn and tip it; on the dial: move the sun" },
  { keys: "+ / −", does: "on a picture: move in and out" },
  { keys: "Enter", does: "on a number: type it" },
  { keys: "S", does: "in Cover and Things, on a number: five values of it side by side" },
  { keys: "Delete", does: "on a point of a course or a curve: take it out" },
  { keys: "Esc", does: "back out of typing, a menu or a drag" },
  { keys: "?", does: "this list; once more the guide, where you are; then neither" },
];

/** Fields that nothing is typed into: keys mean there what they mean elsewhere. */
const NO_TEXT = new Set(["checkbox", "radio", "range", "color", "file", "button"]);

/** Whether a key press is meant for text being typed. */
export function typing(event: KeyboardEvent): boolean {
  const target = event.target;
  if (target instanceof HTMLInputElement) return !NO_TEXT.has(target.type);
  return target instanceof HTMLElement && ["TEXTAREA", "SELECT"].includes(target.tagName);
}
