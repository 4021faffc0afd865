/** Choices that several kinds of entries have. */

import { Segments } from "../../parts/segments";

interface GreenProps {
  green: "up" | "down";
  onChoose: (label: string, change: { green: "up" | "down" }) => void;
}

export function GreenPoints({ green, onChoose }: GreenProps) {
  return (
    <Segments
      label="Green points"
      value={green}
      choices={[
        { value: "up", label: "green up" },
        { value: "down", label: "green down" },
      ]}
      onChoose={(next) => onChoose(`green ${next}`, { green: next })}
    />
  );
}

interface BytesProps {
  lowFirst: boolean;
  onChoose: (label: string, change: { low_byte_first: boolean }) => void;
}

export function OrderOfBytes({ lowFirst, onChoose }: BytesProps) {
  return (
    <Segments
      label="Order of bytes"
      value={lowFirst ? "low" : "high"}
      choices={[
        { value: "low", label: "low byte first" },
        { value: "high", label: "high byte first" },
      ]}
      onChoose={(next) => onChoose(`${next} byte first`, { low_byte_first: next === "low" })}
    />
  );
}
