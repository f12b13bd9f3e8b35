import type { JSX } from 'react';

/** A vehicle from above, nose up, a windscreen and a rear window. In the picture's own units. */
export function VehicleOutline({ x, y, width, height }: { x: number; y: number; width: number; height: number }): JSX.Element {
  const bar = (at: number, inset: number): string =>
    `M${x + inset} ${y + at} Q${x + width / 2} ${y + at - height * 0.04} ${x + width - inset} ${y + at}`;
  return (
    <g fill="none" stroke="var(--line)" strokeWidth="2.5">
      <rect x={x} y={y} width={width} height={height} rx={width * 0.28} fill="var(--raised)" />
      <path d={bar(height * 0.3, width * 0.06)} />
      <path d={bar(height * 0.84, width * 0.085)} />
      <line x1={x + width / 2} x2={x + width / 2} y1={y + height * 0.32} y2={y + height * 0.36} />
    </g>
  );
}
