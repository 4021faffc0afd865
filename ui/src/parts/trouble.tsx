/** What went wrong, in a sentence, read out at once; nothing where nothing did. */

interface TroubleProps {
  says: string | null | undefined;
  className?: string;
}

export function Trouble({ says, className = "text-warn" }: TroubleProps) {
  return says ? (
    <p role="alert" className={className}>
      {says}
    </p>
  ) : null;
}
