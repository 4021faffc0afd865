/** A name for a new part of a recipe, unlike any other. */
export const newId = () =>
  crypto
    .getRandomValues(new Uint32Array(2))
    .reduce((text, n) => text + n.toString(36), "part")
    .slice(0, 16);
