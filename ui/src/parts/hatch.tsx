/** Layers are told apart by hatch and number, as on a printed section, never by a rainbow. */

const KINDS = 8;

export const hatchOf = (index: number) => `hatch-${index % KINDS}`;

const INK = "#1c1d1e";

/** The patterns, once a page. */
export function HatchDefinitions() {
  const line = { stroke: INK, strokeWidth: 0.9, fill: "none" };
  const pattern = (k: number, size: number, turn: number, content: React.ReactNode) => (
    <pattern
      key={k}
      id={`hatch-${k}`}
      width={size}
      height={size}
      patternUnits="userSpaceOnUse"
      patternTransform={`rotate(${turn})`}
    >
      <rect width={size} height={size} fill="#f6f5f3" />
      {content}
    </pattern>
  );
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        {pattern(0, 7, 0, <circle cx="2" cy="2" r="0.9" fill={INK} />)}
        {pattern(1, 6, 0, <path d="M1 6l1.6-4.6L4.2 6" {...line} />)}
        {pattern(2, 8, 0, <path d="M1 2l3-1 2 2-3 2zM5 6l2-.6" {...line} />)}
        {pattern(3, 6, 20, <path d="M0 0v6" {...line} />)}
        {pattern(4, 8, 0, <path d="M0 2h5M3 6h5" {...line} />)}
        {pattern(5, 6, 45, <path d="M0 0v6M0 0h6" {...line} />)}
        {pattern(6, 10, 0, <path d="M0 4q2.5-3 5 0t5 0" {...line} />)}
        {pattern(7, 7, -35, <path d="M0 0v7" strokeDasharray="3 2" {...line} />)}
      </defs>
    </svg>
  );
}
