/** A field in place of a name: Enter or leaving it takes what was typed, Escape what was there. */

import { useRef, useState } from "react";

const LONGEST = 80;

interface NameFieldProps {
  /** What it names, for those who do not see it. */
  label: string;
  name: string;
  className?: string;
  /** Whether a name may be taken away. */
  mayBeEmpty?: boolean;
  onName: (name: string) => void;
  /** The field is not needed any more. */
  onDone: () => void;
}

export function NameField({ label, name, className = "", mayBeEmpty = false, onName, onDone }: NameFieldProps) {
  const [typed, setTyped] = useState(name);
  // a field that goes away loses the focus as well
  const done = useRef(false);
  function end(take: boolean) {
    if (done.current) return;
    done.current = true;
    const plain = typed.trim().slice(0, LONGEST);
    onDone();
    if (take && plain !== name && (plain || mayBeEmpty)) onName(plain);
  }
  return (
    <input
      autoFocus
      aria-label={label}
      className={`field ${className}`}
      value={typed}
      maxLength={LONGEST}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={() => end(true)}
      onKeyDown={(event) => {
        if (event.key === "Enter") end(true);
        if (event.key === "Escape") end(false);
        event.stopPropagation();
      }}
    />
  );
}
