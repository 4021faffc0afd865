import { useEffect, useMemo } from "react";
import { resting, type Rest } from "../state/resting";

/** A place for what this control steps; kept as well when the control goes away. */
export function useRest(): Rest {
  const rest = useMemo(() => resting(), []);
  useEffect(() => rest.now, [rest]);
  return rest;
}
