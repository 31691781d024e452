import { ThemeProvider } from '@mui/material';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent, { PointerEventsCheckLevel } from '@testing-library/user-event';
import type { ReactElement } from 'react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { acting } from '../data/query';
import { answerWith } from './server';
import { theme } from '../theme/theme';

export type Sent = { what: string; body: unknown };

/** What the server answers to "GET /api/v1/…": a value, or a Failure with its status. */
export type Answers = Record<string, unknown>;

export class Refused {
  constructor(
    readonly status: number,
    readonly failure: { code: string; detail: string; next: string[] },
  ) {}
}

function Where() {
  const at = useLocation();
  return <output aria-label="where">{at.pathname + at.search}</output>;
}

/**
 * Shows a page as the console does, with a server that knows these answers alone; anything else that is
 * asked is answered with 404.
 *
 * @returns what was sent, every address that was asked, and a person at the keyboard
 */
export function show(page: ReactElement, answers: Answers = {}, at = '/', pattern = '*') {
  const sent: Sent[] = [];
  const asked: string[] = [];
  answerWith(async (request) => {
    const path = new URL(request.url, 'http://localhost').pathname;
    const what = `${request.method} ${path}`;
    asked.push(request.url);
    const text = await request.text();
    if (request.method !== 'GET') sent.push({ what, body: text ? JSON.parse(text) : null });
    const answer = answers[what];
    if (answer instanceof Refused) return json(answer.failure, answer.status);
    return answer === undefined
      ? json({ code: 'NOT_FOUND', detail: `${what} is not known`, next: [] }, 404)
      : json(answer, 200);
  });
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: acting() } });
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={queries}>
        <MemoryRouter initialEntries={[at]}>
          <Routes>
            <Route path={pattern} element={page} />
            <Route path="*" element={null} />
          </Routes>
          <Where />
        </MemoryRouter>
      </QueryClientProvider>
    </ThemeProvider>,
  );
  return { sent, asked, person: person() };
}

/** Somebody at the keyboard. A text without special keys is put in at once: each key draws the page anew. */
function person() {
  const one = userEvent.setup({ pointerEventsCheck: PointerEventsCheckLevel.Never });
  return {
    ...one,
    type: async (element: Element, text: string) => {
      await one.click(element);
      for (const part of text.split(/({[^}]+})/)) await (part.startsWith('{') ? one.keyboard(part) : one.paste(part));
    },
  };
}

function json(body: unknown, status: number) {
  return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
}
