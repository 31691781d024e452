import { useQuery } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from './api';

export const session = {
  queryKey: ['session'],
  queryFn: () => unwrap(client.GET('/api/v1/session')),
  staleTime: 60_000,
};

export type May = Schemas['MayView'];

/** Why an act cannot be done now, and who can; nothing when it can. The server alone knows. */
export function whyNot(may: May | undefined): string | undefined {
  if (!may || may.allowed) return undefined;
  return may.who.length > 0 ? `${may.why} Who can: ${may.who.join(', ')}.` : may.why;
}

/** Whether the person who is signed in has a right there; "*" asks for everywhere, "?" for anywhere. Not known yet: as if not. */
export function useMissing(right: string, stage: string, application: string): string | undefined {
  const may = useQuery({
    queryKey: ['session', 'may', right, stage, application],
    queryFn: () => unwrap(client.GET('/api/v1/session/may', { params: { query: { right, stage, application } } })),
    staleTime: 60_000,
  });
  return may.data ? whyNot(may.data) : may.error ? 'Your rights could not be asked.' : 'Asking for your rights …';
}
