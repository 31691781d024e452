// @vitest-environment happy-dom
import axe from 'axe-core';
import { expect, test } from 'vitest';

test('what a reader cannot name is found', async () => {
  document.body.innerHTML = '<main><button></button><input type="text"><img src="x.png"></main>';

  const found = await axe.run(document.body, { resultTypes: ['violations'] });

  expect(found.violations.map((v) => v.id).sort()).toEqual(
    expect.arrayContaining(['button-name', 'image-alt', 'label']),
  );
  document.body.innerHTML = '';
});
