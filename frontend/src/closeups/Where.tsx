/** A sketch of what is marked, with the asked place ringed: nothing of it is measured. */
const SINGLE: Record<string, readonly [number, number]> = {
  reed_tip: [60, 20],
  mouth_tip: [60, 14],
  reed_r: [78, 48],
  reed_l: [42, 48],
  rail_r: [86, 48],
  rail_l: [34, 48],
  cut: [60, 112],
  lig_top: [60, 146],
};
const DOUBLE: Record<string, readonly [number, number]> = {
  blade_r: [104, 60],
  blade_l: [16, 60],
  gap_r: [96, 60],
  gap_l: [24, 60],
  gap_top: [60, 53],
  gap_bottom: [60, 67],
  crook_a: [60, 125],
  crook_b: [60, 172],
};

export function Where({ asked }: { asked: string }) {
  const single = asked in SINGLE;
  const at = SINGLE[asked] ?? DOUBLE[asked];
  return (
    <svg viewBox="0 0 120 190" className="where" aria-hidden>
      {single ? <SingleReed /> : <DoubleReed />}
      {at && (
        <g transform={`translate(${at[0]} ${at[1]})`} className="ring">
          <circle r={7} />
          <path d="M-13 0h8M5 0h8M0-13v8M0 5v8" />
        </g>
      )}
    </svg>
  );
}

function SingleReed() {
  return (
    <g strokeLinejoin="round">
      <path className="body" d="M41 14h38l4 26 12 106v44H25v-44L37 40z" />
      <path className="reed" d="M45 20h30q3 0 3 6l-2 164H44l-2-164q0-6 3-6z" />
      <path d="M42 112h36" />
      <path className="ligature" d="M20 146h80v34H20z" />
    </g>
  );
}

function DoubleReed() {
  return (
    <g strokeLinejoin="round">
      <path className="crook" d="M60 74v108" />
      <path className="reed" d="M16 60q44-26 88 0-14 30-44 30T16 60z" />
      <path className="dark" d="M24 60q36-14 72 0-36 14-72 0z" />
    </g>
  );
}
