import createClient from 'openapi-fetch';
import type { components, paths } from '../schema';

export type Schemas = components['schemas'];

/** An answer that was not what was asked for: a stable code, a sentence, what to do next. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly detail: string,
    readonly next: string[],
    readonly field: string | null,
    readonly requestId: string,
  ) {
    super(detail);
  }
}

let csrf = '';

/** The browser's key, sent with whatever changes something. */
export function useCsrf(value: string) {
  csrf = value;
}

export function newKey(): string {
  return crypto.randomUUID();
}

/** An edit of what was looked at; of what is another by now it is refused. */
export const asSeen = (revision: number) => ({ headers: { 'If-Match': `"${revision}"` } });

const client = createClient<paths>({ baseUrl: '' });
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-Plenzo-Csrf', csrf);
      if (!request.headers.has('Content-Type')) request.headers.set('Content-Type', 'application/json');
      if (request.method === 'POST' && !request.headers.has('Idempotency-Key'))
        request.headers.set('Idempotency-Key', newKey());
    }
    return request;
  },
});

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The one place where answers become data or an ApiError. */
export async function unwrap<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new ApiError(
      0,
      'NOT_REACHABLE',
      'Plenzo cannot be reached from here.',
      ['Check the network; nothing was sent again by itself'],
      null,
      '',
    );
  }
  if (answer.response.ok) return answer.data as T;
  const f = (answer.error ?? {}) as Partial<Schemas['Failure']>;
  throw new ApiError(
    answer.response.status,
    f.code ?? 'UNEXPECTED',
    f.detail ?? `The server answered ${answer.response.status}.`,
    f.next ?? [],
    f.field ?? null,
    f.requestId ?? '',
  );
}

export { client };
