/** What else can be done with one part of a list: a panel of actions, and whatever stands under them. */

import { useState, type ReactNode } from "react";
import { Panel } from "./panel";

interface MoreMenuProps {
  name: string;
  width: number;
  actions: readonly (readonly [label: string, act: () => void])[];
  /** Given the way to close the panel. */
  children?: (close: () => void) => ReactNode;
}

export function MoreMenu({ name, width, actions, children }: MoreMenuProps) {
  const [open, setOpen] = useState(false);
  const close = () => setOpen(false);
  return (
    <Panel
      title={name}
      width={width}
      side="right"
      open={open}
      onOpen={setOpen}
      trigger={
        <button
          type="button"
          className="figures relative bg-raised px-[6px] text-xs leading-[18px] font-medium"
          aria-label={`More for ${name}`}
        >
          More
        </button>
      }
    >
      <div className="grid gap-1">
        {actions.map(([label, act]) => (
          <button
            key={label}
            type="button"
            className="key text-left"
            onClick={() => {
              close();
              act();
            }}
          >
            {label}
          </button>
        ))}
        {children?.(close)}
      </div>
    </Panel>
  );
}
