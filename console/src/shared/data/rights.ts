import { useQuery } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from './api';

export const session = {
  queryKey: ['session'],
  queryFn: () => unwrap(client.GET('/api/v1/session')),
  staleTime: 60_000,
};

const covers = (granted: string, asked: string) => granted === '*' || asked === '*' || granted === asked;

/** Why the person may not do it there; nothing when they may. "*" asks for anywhere. */
export function missing(
  me: Schemas['Me'] | undefined,
  right: string,
  stage: string,
  application: string,
): string | undefined {
  if (!me) return 'Not signed in.';
  const has = me.grants.some((g) => g.right === right && covers(g.stage, stage) && covers(g.application, application));
  return has
    ? undefined
    : `You need the right “${right}”${stage === '*' ? '' : ` in ${stage}`}; an administrator grants it.`;
}

/** The same for the person who is signed in. */
export function useMissing(right: string, stage: string, application: string): string | undefined {
  return missing(useQuery(session).data, right, stage, application);
}
