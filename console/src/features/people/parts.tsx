import { Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { t } from './texts';

/** Fields and their act beside one another. */
export const line = { display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' };
/** On the line of the text beside it. */
export const flat = { my: -1 };
export const EVERY = '*';

type Place = { stage: string; application: string };
export const at = (g: Place) => (g.stage === EVERY ? t.person.everyStage : g.stage);
export const of = (g: Place) => (g.application === EVERY ? t.person.everyApplication : g.application);

/** Everything of people is asked anew after an act. */
export function useAfter() {
  const queries = useQueryClient();
  return { onSuccess: () => queries.invalidateQueries({ queryKey: ['people'] }) };
}

/** What an act costs, or what a field wants, before it. */
export function Hint({ children }: { children: string }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
      {children}
    </Typography>
  );
}
