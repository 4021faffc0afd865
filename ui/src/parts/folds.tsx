/** Groups of controls of which one is open at a time; the folded ones tell what they hold. */

import { Accordion } from "radix-ui";
import type { ReactNode } from "react";

export interface Fold {
  name: string;
  title: string;
  /** What it holds, told while it is folded. */
  told: string;
  inside: ReactNode;
}

interface FoldsProps {
  folds: readonly Fold[];
  open: string;
  onOpen: (name: string) => void;
}

export function Folds({ folds, open, onOpen }: FoldsProps) {
  return (
    <Accordion.Root type="single" collapsible value={open} onValueChange={onOpen}>
      {folds.map(({ name, title, told, inside }) => (
        <Accordion.Item key={name} value={name} className="border-t border-rule">
          <Accordion.Header className="flex">
            <Accordion.Trigger
              className="group flex h-6 min-w-0 flex-1 items-center gap-1.5 text-left"
              title={open === name ? "Fold" : told}
            >
              <svg
                aria-hidden
                width="8"
                height="8"
                className="shrink-0 transition-transform group-data-[state=open]:rotate-90"
              >
                <path d="M2 1l4 3-4 3z" fill="currentColor" />
              </svg>
              <span className="font-medium">{title}</span>
              {open !== name && <span className="figures ml-auto truncate text-xs text-quiet">{told}</span>}
            </Accordion.Trigger>
          </Accordion.Header>
          <Accordion.Content>{inside}</Accordion.Content>
        </Accordion.Item>
      ))}
    </Accordion.Root>
  );
}
