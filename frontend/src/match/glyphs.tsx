/** Small forms that tell threads apart without colour, number or letter: the same at both ends of a thread. */
const FORMS = [
  "M-5 0H5",
  "M-5 3L0 -3L5 3",
  "M0 -5L5 0L0 5L-5 0Z",
  "M-4 -4L4 4M4 -4L-4 4",
  "M0 -6C4 -1 4 5 0 5C-4 5 -4 -1 0 -6Z",
  "M4.5 0A4.5 4.5 0 1 1 -4.5 0A4.5 4.5 0 1 1 4.5 0",
  "M-5 -3L0 3L5 -3",
  "M0 -5V5M-5 0H5",
  "M-5 -2H5M-5 2H5",
  "M-5 2A5 5 0 0 1 5 2",
  "M-4 -4H4V4H-4Z",
  "M0 -5L5 4H-5Z",
];

export function Glyph({
  index,
  x,
  y,
  size,
  color,
}: {
  index: number;
  x: number;
  y: number;
  size: number;
  color: string;
}) {
  return (
    <g transform={`translate(${x} ${y}) scale(${size})`} pointerEvents="none">
      <circle r={8.5} fill="var(--panel)" stroke={color} strokeWidth={1} />
      <path
        d={FORMS[index % FORMS.length]}
        fill="none"
        stroke={color}
        strokeWidth={1.8}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </g>
  );
}
