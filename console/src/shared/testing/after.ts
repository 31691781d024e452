import { cleanup, configure } from '@testing-library/react';
import axe from 'axe-core';
import { afterEach, expect } from 'vitest';

// two cores build and test at once: a second is short then, and nobody waits for what is there
configure({ asyncUtilTimeout: 10_000 });

/** Of what a test shows at its end: colours and landmarks are looked at in the browser. */
const RULES = { 'color-contrast': { enabled: false }, region: { enabled: false } };

/** So many of a file's pages are looked at: a look takes half a second. */
const LOOKS = 1;
let looks = 0;

afterEach(async () => {
  if (typeof document === 'undefined') return;
  if (++looks > LOOKS) return cleanup();
  const found = await axe.run(document.body, { resultTypes: ['violations'], rules: RULES });
  cleanup();
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(' | ')}`)).toEqual([]);
});
