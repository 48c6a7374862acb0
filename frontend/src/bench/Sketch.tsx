/** A small sketch of a face that shows where the asked point lies. */

type Place = readonly [number, number];

const FRONT: Record<string, Place> = {
  ch_r: [41, 78],
  ch_l: [79, 78],
  ls: [60, 72],
  li: [60, 87],
  cph_r: [55, 70.5],
  cph_l: [65, 70.5],
  sto_s: [60, 78],
  sto_i: [60, 79],
  sn: [60, 61],
  al_r: [51, 56],
  al_l: [69, 56],
  ex_r: [28, 34],
  ex_l: [92, 34],
  en_r: [49, 35],
  en_l: [71, 35],
  me: [60, 111],
  ap_r: [54, 78],
  ap_l: [66, 78],
  ck_r: [21, 78],
  ck_l: [99, 78],
  rim_1: [60, 56],
  rim_2: [80, 70],
  rim_3: [73, 93],
  rim_4: [47, 93],
  rim_5: [40, 70],
  mp_r: [50, 80],
  mp_l: [70, 80],
  hole_r: [52, 93],
  hole_l: [68, 93],
  hole_far: [60, 99],
  pl_r: [34, 95],
  pl_l: [86, 95],
};

const SIDE: Record<string, Place> = {
  n: [66, 22],
  prn: [92, 47],
  sn: [77, 56],
  ls: [82, 65],
  sto: [78, 70],
  li: [80, 79],
  sl: [73, 88],
  pg: [78, 99],
  me: [70, 108],
  mp_lip: [86, 68],
  ax_a: [98, 76],
  ax_b: [110, 84],
  rs_top: [84, 58],
  rs_low: [84, 82],
  ps_in: [80, 84],
  ps_out: [104, 80],
};

const LINES: Record<"front" | "side", string[]> = {
  front: [
    // face, eyes, nose, lips
    "M22 20C14 60 26 112 60 112S106 60 98 20",
    "M28 34Q38 27 49 35Q38 40 28 34M71 35Q82 27 92 34Q82 40 71 35",
    "M54 38L51 56Q60 65 69 56L66 38",
    "M41 78Q50 71 55 70.5Q60 73 65 70.5Q70 71 79 78Q60 98 41 78M41 78Q60 80 79 78",
  ],
  side: [
    "M58 4Q70 12 66 22L92 47Q90 55 77 56Q78 60 82 65Q83 68 78 70Q84 73 80 79Q72 84 73 88Q80 92 78 99Q76 108 62 109L40 100",
    "M46 28Q56 22 60 30Q52 33 46 28",
    "M78 70L66 72",
  ],
};

const THINGS: Record<string, string> = {
  rim: "M60 56A20.5 20.5 0 1 1 59.9 56",
  mp: "M50 78L48 116H72L70 78",
  hole: "M34 95Q60 84 86 95Q60 110 34 95M52 93A8 6 0 1 0 68 93A8 6 0 1 0 52 93",
  pl: "M34 95Q60 84 86 95Q60 110 34 95M52 93A8 6 0 1 0 68 93A8 6 0 1 0 52 93",
  mp_lip: "M74 66L114 84L110 92L72 74M98 72L94 82M110 79L106 89",
  ax: "M74 66L114 84L110 92L72 74M98 72L94 82M110 79L106 89",
  rs: "M84 58V82M84 64L118 68M84 76L118 72",
  ps: "M80 84L104 80",
};

/** A ruler for a known length; it is held beside the mouth, not on the face. */
const RULER = "M98 70V112M98 70H104M98 84H102M98 98H102M98 112H104";

export function Sketch({ view, landmark }: { view: "front" | "side"; landmark: string }) {
  const place = (view === "front" ? FRONT : SIDE)[landmark];
  const thing = THINGS[landmark] ?? THINGS[landmark.split("_")[0] ?? ""];
  const ruler = landmark === "kl_a" || landmark === "kl_b";
  const at: Place | undefined = ruler ? [98, landmark === "kl_a" ? 70 : 112] : place;
  if (!at) return null;
  return (
    <svg className="sketch" viewBox="0 0 120 118" aria-hidden data-sketch={landmark}>
      <g fill="none" stroke="var(--faint)" strokeWidth={1.4} strokeLinejoin="round">
        {LINES[view].map((d) => (
          <path key={d} d={d} />
        ))}
      </g>
      {(ruler || thing) && (
        <path
          d={ruler ? RULER : thing}
          fill={ruler ? "none" : "var(--paper)"}
          fillOpacity={0.6}
          stroke="var(--brass)"
          strokeWidth={1.8}
        />
      )}
      <circle cx={at[0]} cy={at[1]} r={7} fill="none" stroke="var(--fault)" strokeWidth={2} />
      <circle cx={at[0]} cy={at[1]} r={2} fill="var(--fault)" />
    </svg>
  );
}
