/** What the pages of drafts say. */
export const t = {
  renames: {
    title: 'Renamed, or two columns?',
    asked: (was: string, is: string) => `${was} is gone and ${is} of the same type is new.`,
    cost: 'If it was renamed, its values would be lost: give it its old name at the source.',
    answer: 'These are two columns',
    answered: 'Two columns, as somebody said.',
  },
};
