import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { expect, test, vi } from 'vitest';
import { apply } from './events';

const EVENT = JSON.stringify({ run: 'R-1', promotion: 'P-1' });

/** A page that shows a run, and a server that answers when it is told to. */
function watched(key: string[]) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
  const answers: ((step: string) => void)[] = [];
  const seen: (string | undefined)[] = [];
  queries.setQueryData(key, 'step 1');
  const observer = new QueryObserver<string>(queries, {
    queryKey: key,
    queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
  });
  observer.subscribe((r) => seen.push(r.data));
  return { queries, answers, seen };
}

test('an answer on its way is shown although events go on', async () => {
  const { queries, answers, seen } = watched(['runs', 'R-1']);

  apply(queries, 'step', EVENT);
  await vi.waitFor(() => expect(answers).toHaveLength(1));
  apply(queries, 'step', EVENT);
  apply(queries, 'step', EVENT);
  answers[0]?.('step 2');

  await vi.waitFor(() => expect(seen).toContain('step 2'));
  await vi.waitFor(() => expect(answers).toHaveLength(2));
  answers[1]?.('step 3');
  await vi.waitFor(() => expect(seen).toContain('step 3'));
  expect(answers).toHaveLength(2);
});

test('after an answer a later event asks again', async () => {
  const { queries, answers, seen } = watched(['standing']);

  apply(queries, 'step', EVENT);
  await vi.waitFor(() => expect(answers).toHaveLength(1));
  answers[0]?.('step 2');
  await vi.waitFor(() => expect(seen).toContain('step 2'));
  await vi.waitFor(() => {
    apply(queries, 'step', EVENT);
    expect(answers).toHaveLength(2);
  });
});

test('a line of a log is added, and asks for nothing', () => {
  const { queries, answers } = watched(['runs', 'R-1']);
  queries.setQueryData(['runs', 'R-1', 'log'], { lines: ['a'] });

  apply(queries, 'log', JSON.stringify({ run: 'R-1', line: 'b' }));

  expect(queries.getQueryData(['runs', 'R-1', 'log'])).toEqual({ lines: ['a', 'b'] });
  expect(answers).toHaveLength(0);
});
