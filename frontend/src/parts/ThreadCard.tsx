// A wound thread card: two notches, six strands in three tones.
const PLAIN = "#b8afa0";

function shade(hex: string, by: number): string {
  const channels = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));
  const toward = by > 0 ? 255 : 0;
  return `rgb(${channels.map((c) => Math.round(c + (toward - c) * Math.abs(by))).join(" ")})`;
}

export function ThreadCard({ colour }: { colour: string | null }) {
  const base = colour ?? PLAIN;
  const tones = [base, shade(base, 0.22), shade(base, -0.22)];
  return (
    <svg width="28" height="36" viewBox="0 0 28 36" aria-hidden="true" className="on-paper">
      <path
        d="M1 1 H27 V13 L24 18 L27 23 V35 H1 V23 L4 18 L1 13 Z"
        fill="var(--linen-deep)"
        stroke="var(--line-strong)"
      />
      {Array.from({ length: 6 }, (_, i) => (
        <rect key={i} x="3" y={7 + i * 3.8} width="22" height="3.4" rx="1.7" fill={tones[i % 3]} />
      ))}
    </svg>
  );
}
