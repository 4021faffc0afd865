/** One of a few choices, side by side. */

import { ToggleGroup } from "radix-ui";

interface SegmentsProps<T extends string> {
  label: string;
  value: T;
  choices: readonly { value: T; label: string; hint?: string }[];
  onChoose: (value: T) => void;
}

export function Segments<T extends string>({ label, value, choices, onChoose }: SegmentsProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => {
        const chosen = choices.find((choice) => choice.value === next);
        if (chosen) onChoose(chosen.value);
      }}
      className="figures flex border border-ink text-xs font-medium"
    >
      {choices.map((choice) => (
        <ToggleGroup.Item
          key={choice.value}
          value={choice.value}
          title={choice.hint}
          className="flex-1 border-r border-ink px-2 py-[2px] whitespace-nowrap last:border-0 data-[state=on]:bg-ink data-[state=on]:text-raised"
        >
          {choice.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
