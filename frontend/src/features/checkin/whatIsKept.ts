/** What is kept of a design's check-in while the server cannot be asked, and what comes of it when more is typed or sent. */
import type { KeptCheckIn as Body, Design } from "../../api/types";

export type KeptReading = Body["readings"][number];
type KeptAnswer = Body["answers"][number];

/** What is set to another value: the last one counts, and goes by what stood there at first. */
type Changes = Pick<Body, "level" | "controls_broken" | "away">;
const CHANGES = ["level", "controls_broken", "away"] as const;

export interface KeptCheckIn extends Changes {
  design: number;
  run: number;
  /** In the order in which they were typed. */
  readings: KeptReading[];
  answers: KeptAnswer[];
  checkIn: boolean;
  /** That it counts, whatever somebody else wrote meanwhile. */
  confirmed: boolean;
  /** Why the server did not take it; none before it was asked. */
  refused: { sentence: string; confirm: boolean } | null;
}

/** More of a check-in, as one write brings it. */
export type MoreOfIt = Partial<Pick<KeptCheckIn, "readings" | "answers" | "checkIn">> & Changes;

/** A repeat goes behind those it repeats; any other takes their place, and goes by what stood there before them. */
function readingsWith(list: readonly KeptReading[], fresh: readonly KeptReading[]): KeptReading[] {
  let all = [...list];
  for (const one of fresh) {
    const stood = (all.find((kept) => kept.key === one.key) ?? one).stood;
    if (!one.again) all = all.filter((kept) => kept.key !== one.key);
    all.push({ ...one, stood });
  }
  return all;
}

function answersWith(list: readonly KeptAnswer[], fresh: readonly KeptAnswer[]): KeptAnswer[] {
  const known = new Map(list.map((one) => [one.key, one]));
  for (const one of fresh) known.set(one.key, { ...one, before: (known.get(one.key) ?? one).before });
  return [...known.values()];
}

function changesWith(old: Changes, fresh: Changes): Changes {
  const all: Changes = { ...old, ...fresh };
  for (const name of CHANGES) {
    const [was, now] = [old[name], fresh[name]];
    if (was && now) Object.assign(all, { [name]: { ...now, before: was.before } });
  }
  return all;
}

/** What is kept, with more that was typed. */
export function withMore(
  design: number,
  run: number,
  old: KeptCheckIn | undefined,
  more: MoreOfIt,
): KeptCheckIn {
  const { readings = [], answers = [], checkIn, ...changes } = more;
  const all: KeptCheckIn = {
    ...changesWith(old ?? {}, changes),
    design,
    run,
    readings: readingsWith(old?.readings ?? [], readings),
    answers: answersWith(old?.answers ?? [], answers),
    checkIn: checkIn ?? old?.checkIn ?? false,
    confirmed: false,
    refused: null,
  };
  // Whoever is checked in is here.
  if (checkIn) delete all.away;
  return all;
}

/** What an earlier visit kept, with what was typed since. */
export function older(kept: KeptCheckIn, since: KeptCheckIn | undefined): KeptCheckIn {
  if (!since) return kept;
  const { design, run, confirmed, refused, checkIn, ...more } = since;
  const all = withMore(design, run, kept, { ...more, ...(checkIn ? { checkIn } : {}) });
  return { ...all, ...(since.away ? { away: since.away } : {}), confirmed, refused };
}

/** What is still kept once a part of it was sent, and the design is as `shown`; none where nothing is left. */
export function rest(now: KeptCheckIn, sent: KeptCheckIn, shown: Design): KeptCheckIn | null {
  const there = new Set(sent.readings.map((one) => one.sent_as));
  const standing = new Map(shown.readings.map((one) => [one.key, one.id]));
  const { design, run, confirmed, refused } = now;
  const left: KeptCheckIn = {
    ...{ design, run, confirmed, refused },
    readings: now.readings
      .filter((one) => !there.has(one.sent_as))
      .map((one) => ({ ...one, stood: standing.get(one.key) ?? null })),
    answers: now.answers
      .map((one) => ({ ...one, before: shown.answers[one.key] ?? null }))
      .filter((one) => one.value !== one.before),
    checkIn: now.checkIn && !sent.checkIn,
  };
  const changes = CHANGES.flatMap((name) => {
    const one = now[name];
    return one && String(one.value) !== String(shown[name]) ? [[name, { ...one, before: shown[name] }]] : [];
  });
  const nothing = left.readings.length + left.answers.length + changes.length === 0 && !left.checkIn;
  return nothing ? null : { ...left, ...(Object.fromEntries(changes) as Changes) };
}

/** The body by which it is sent. */
export function bodyOf(kept: KeptCheckIn): Body {
  const { readings, answers, checkIn, confirmed, level, controls_broken, away } = kept;
  return {
    readings,
    answers,
    check_in: checkIn,
    confirmed,
    ...(level && { level }),
    ...(controls_broken && { controls_broken }),
    ...(away && { away }),
  };
}
