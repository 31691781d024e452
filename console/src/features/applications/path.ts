import type { Schemas } from '../../shared/data/api';
import { groupsOf, type Group } from '../standing/model';

type Line = Schemas['StandingLine'];
type Cell = Schemas['StandingCell'];

/** A stage of the path, with what lies between the one before and it. */
export interface Stop {
  stage: string;
  name: string;
  production: boolean;
  groups: Group[];
  /** Versions that the place before has and a site here has not. */
  between: number;
  /** Whether every site here has the newest version of the place before. */
  level: boolean;
}

/** How far behind the newest version a stage is: its furthest site. */
const behind = (cells: Cell[]): number => Math.max(0, ...cells.map((c) => c.behind));

/** The stops of a path, in its order. */
export function stops(line: Line, legs: string[], stages: Schemas['StageView'][]): Stop[] {
  let ahead = 0; // how far behind the place before is
  return legs.map((leg) => {
    const stage = stages.find((s) => s.key === leg);
    const cells = line.cells.filter((c) => c.site.startsWith(`${leg}/`));
    const groups = groupsOf(line, leg);
    const here = behind(cells);
    const never = cells.length > 0 && cells.every((c) => !c.version);
    const stop = {
      stage: leg,
      name: stage?.name ?? leg,
      production: stage?.role === 'production',
      groups,
      between: never ? 0 : Math.max(0, here - ahead),
      level: !never && here <= ahead,
    };
    ahead = here;
    return stop;
  });
}
