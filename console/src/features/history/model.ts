import type { Schemas } from '../../shared/data/api';

type Placement = Schemas['PlacementView'];

const words: Record<string, string> = {
  adopted: 'adopted',
  matched: 'matched',
  run: 'promoted',
  rollback: 'rolled back to',
};

/** Placements with how long each lasted, as a share that lets short ones be seen beside long ones. */
export function segments(placements: Placement[], now: Date): (Placement & { share: number; words: string })[] {
  return placements.map((p, i) => {
    const end = placements[i + 1]?.at ?? now.toISOString();
    const hours = Math.max(0, Date.parse(end) - Date.parse(p.at)) / 3_600_000;
    return { ...p, share: Math.round(10 * Math.log2(2 + hours)) / 10, words: words[p.how] ?? p.how };
  });
}
