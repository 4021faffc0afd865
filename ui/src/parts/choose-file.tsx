/** A button that lets a file be chosen, and what takes one that is dropped. */

import { useRef, type DragEvent, type ReactNode } from "react";

interface ChooseFileProps {
  /** What the file is, for those who do not see the button beside it. */
  label: string;
  accept: string;
  onFile: (file: File) => void;
  className?: string;
  disabled?: boolean;
  children: ReactNode;
}

export function ChooseFile({ label, accept, onFile, className = "key", disabled = false, children }: ChooseFileProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className={className} disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </button>
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          // the same file may be chosen again
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}

/** What lets a place take a file that is dropped on it. */
export const takesFile = (onFile: (file: File) => void) => ({
  onDragOver: (event: DragEvent) => {
    if (event.dataTransfer.types.includes("Files")) event.preventDefault();
  },
  onDrop: (event: DragEvent) => {
    const file = event.dataTransfer.files[0];
    if (!file) return;
    event.preventDefault();
    event.stopPropagation();
    onFile(file);
  },
});
