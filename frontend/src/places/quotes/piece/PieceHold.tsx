// What is dragged or moved by arrow keys on the drawn piece: one millimetre, with Shift ten.
import { useRef } from "react";

interface HoldProps {
  label: string;
  editable: boolean;
  scale: number;
  onStart: () => void;
  onMove: (dx_mm: number, dy_mm: number, free: boolean) => void;
  onStep: (dx_mm: number, dy_mm: number) => void;
  onDrop: () => void;
  onCancel: () => void;
  children: React.ReactNode;
}

export function PieceHold({
  label,
  editable,
  scale,
  onStart,
  onMove,
  onStep,
  onDrop,
  onCancel,
  children,
}: HoldProps) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const leave = () => {
    from.current = null;
    onCancel();
  };
  if (!editable)
    return (
      <g role="img" aria-label={label}>
        {children}
      </g>
    );
  return (
    <g
      className="holds"
      tabIndex={0}
      role="button"
      aria-label={label}
      aria-roledescription="design: arrow keys move it, Shift ten millimetres"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, y: e.clientY };
        onStart();
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        onMove(
          (e.clientX - from.current.x) / scale,
          (e.clientY - from.current.y) / scale,
          e.altKey,
        );
      }}
      onPointerUp={() => {
        from.current = null;
        onDrop();
      }}
      onPointerCancel={leave}
      onLostPointerCapture={() => {
        if (from.current) leave();
      }}
      onKeyDown={(e) => {
        const way = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[
          e.key
        ];
        if (e.key === "Escape") leave();
        if (!way) return;
        e.preventDefault();
        const step = e.shiftKey ? 10 : 1;
        onStep((way[0] ?? 0) * step, (way[1] ?? 0) * step);
      }}
    >
      {children}
    </g>
  );
}
