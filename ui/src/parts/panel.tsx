/** A small sheet that opens beside what it belongs to; looking goes on while it is open. */

import { GuideLink } from "../guide/guide-link";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";

interface PanelProps {
  trigger: ReactNode;
  title: string;
  children: ReactNode;
  side?: "top" | "right" | "bottom" | "left";
  width?: number;
  /** Where the guide tells of it. */
  guide?: string;
  open?: boolean;
  onOpen?: (open: boolean) => void;
}

export function Panel({ trigger, title, children, side = "bottom", width = 280, guide, open, onOpen }: PanelProps) {
  return (
    <Popover.Root modal={false} {...(open === undefined ? {} : { open })} {...(onOpen ? { onOpenChange: onOpen } : {})}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side={side}
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={title}
          style={{ width }}
          className="plate z-40 max-h-[min(80vh,var(--radix-popover-content-available-height))] overflow-y-auto p-3"
        >
          <h3 className="heading mb-2">
            {title}
            {guide && <GuideLink at={guide} about={title.toLowerCase()} />}
          </h3>
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
