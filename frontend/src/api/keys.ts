/** The keys of the query cache, every one of them: what is invalidated by a prefix begins so. */
const all = <const T extends string>(name: T) => [name] as const;

export const keys = {
  session: all("session"),
  people: all("people"),
  colleagues: all("colleagues"),
  secondFactor: all("second-factor"),
  joining: (token: string) => ["joining", token] as const,
  booth: all("booth"),
  boothChoices: all("booth-choices"),
  links: (student: number) => ["links", student] as const,
  phone: (token: string) => ["phone", token] as const,
  ownThenNow: (token: string) => ["own-then-now", token] as const,
  ownPairs: (token: string) => ["own-pairs", token] as const,
  practicePage: (token: string) => ["practice-page", token] as const,
  band: all("band"),
  bands: all("bands"),
  eye: all("eye"),
  eyeRound: (round: number) => ["eye-round", round] as const,
  eyeGallery: (instrument: string) => ["eye-gallery", instrument] as const,
  eyeOpen: (token: string) => ["eye-open", token] as const,
  ladders: all("ladders"),
  oneLadder: all("ladder"),
  ladder: (student: number) => ["ladder", student] as const,
  library: all("library"),
  standards: all("standards"),
  landmarks: all("landmarks"),
  measures: all("measures"),
  hand: all("hand"),
  schoolDays: all("school-days"),

  students: all("student"),
  student: (id: number) => ["student", id] as const,
  takes: all("take"),
  take: (id: number) => ["take", id] as const,
  sound: (take: number) => ["sound", take] as const,
  soundOf: (
    take: number,
    holds: readonly (readonly [number, number])[],
    findings: readonly string[],
    seen: readonly string[],
  ) => ["sound", take, holds, findings, seen] as const,
  exercises: (take: number) => ["sound", take, "exercises"] as const,

  allPlans: all("plans"),
  plans: (student: number) => ["plans", student] as const,
  record: (student: number) => ["record", student] as const,
  trend: (student: number, measure: string) => ["trend", student, measure] as const,
  thenAndNow: (student: number, wanted?: object) =>
    wanted
      ? (["then-and-now", student, wanted] as const)
      : (["then-and-now", student] as const),
  sectionals: (wishes: object) => ["sectionals", wishes] as const,

  standard: (instrument: string) => ["standard", instrument] as const,
  effects: all("effect"),
  effect: (instrument: string, bands: object, school: string) =>
    ["effect", instrument, bands, school] as const,
  zones: (instrument: string, body: object) => ["zones", instrument, body] as const,

  retention: ["retention"] as const,
  school: ["school"] as const,
  preferences: all("preferences"),

  allReeds: all("reeds"),
  reeds: (student: number) => ["reeds", student] as const,
  reedBoxes: all("reed-boxes"),
  allCloseUps: all("close-ups"),
  closeUps: (student: number) => ["close-ups", student] as const,
  closeUp: (id: number) => ["close-up", id] as const,
};
