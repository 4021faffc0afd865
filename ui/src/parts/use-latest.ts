import { useEffect, useRef, useState } from "react";
import { ServerError } from "../api/client";

/** After a lost connection. */
const AGAIN_MS = 1000;

interface Latest<T> {
  value: T | null;
  /** Whether the value is that of the key asked for now. */
  current: boolean;
  trouble: string | null;
}

/**
 * The answer to the newest question. One is asked at a time, so that answers keep coming while
 * something is dragged; what lies between is skipped.
 */
export function useLatest<T>(key: string | null, ask: () => Promise<T>): Latest<T> {
  const [found, setFound] = useState<{ value: T; key: string } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const question = useRef({ key, ask });
  const busy = useRef(false);
  const gone = useRef(false);

  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);

  useEffect(() => {
    question.current = { key, ask };
    const left = () => gone.current;
    const run = async () => {
      if (busy.current) return;
      busy.current = true;
      let done: string | null = null;
      let tries = 0;
      while (!left() && question.current.key !== null && question.current.key !== done) {
        const asked: string = question.current.key;
        try {
          const value = await question.current.ask();
          if (left()) break;
          setFound({ value, key: asked });
          setTrouble(null);
        } catch (error) {
          // another request of this window took its place: ask again if it is still wanted
          if (error instanceof ServerError && error.status === 410 && tries++ < 20) continue;
          if (!left()) setTrouble(error instanceof Error ? error.message : String(error));
          if (error instanceof ServerError && error.status === 0) {
            // nobody answered: what is still wanted is asked again once somebody may
            await new Promise((done) => setTimeout(done, AGAIN_MS));
            continue;
          }
        }
        done = asked;
      }
      busy.current = false;
    };
    void run();
    // the key says everything that the question depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { value: found?.value ?? null, current: found !== null && found.key === key, trouble };
}
