import { MutationObserver, onlineManager } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { queryClient } from './query';

it('never holds an action back to send it when the network returns', async () => {
  const sent: string[] = [];
  onlineManager.setOnline(false);
  const observer = new MutationObserver(queryClient, {
    mutationFn: async (what: string) => {
      sent.push(what);
      throw new Error('no network');
    },
  });

  await expect(observer.mutate('start')).rejects.toThrow('no network');
  onlineManager.setOnline(true);
  await Promise.resolve();

  expect(sent).toEqual(['start']);
});
