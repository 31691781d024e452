import { Box, Dialog, DialogContent, DialogTitle, TextField, Typography } from '@mui/material';
import { useQueries, useQuery } from '@tanstack/react-query';
import { useId, useState, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { applications, versions } from '../../shared/data/lists';
import { bareNumber, found, MOST, whoseVersions, type Found } from './model';
import { t } from './texts';

const ALL = { params: { query: { limit: 500 } } };

/** Goes to any application, version, promotion, run, draft, release or person by name or number. */
export default function FindBox({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const list = useId();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const apps = useQuery(applications()).data ?? [];
  const of = useQueries({
    queries: whoseVersions(text, apps).map((key) => versions(key)),
  });
  const number = bareNumber(text);
  const numbered = useQuery({
    queryKey: ['versions', 'numbered', number],
    queryFn: () => unwrap(client.GET('/api/v1/versions', { params: { query: { number, limit: MOST } } })),
    enabled: number !== undefined,
  });
  const releases = useQuery({
    queryKey: ['releases', 'found'],
    queryFn: () => unwrap(client.GET('/api/v1/releases', ALL)),
  });
  // who may not see people finds none
  const people = useQuery({
    queryKey: ['people', 'found'],
    queryFn: () => unwrap(client.GET('/api/v1/people', ALL)),
    retry: false,
  });
  const results = found(
    text,
    {
      applications: apps,
      versions: [...of.flatMap((q) => q.data ?? []), ...(numbered.data?.items ?? [])],
      releases: releases.data?.items ?? [],
      people: people.data?.items ?? [],
    },
    t.sorts,
  );
  const chosen = Math.min(at, results.length - 1);
  const go = (f: Found) => {
    onClose();
    navigate(f.to);
  };
  const onKey = (e: KeyboardEvent) => {
    const step = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0;
    if (step) {
      e.preventDefault();
      setAt(Math.max(0, Math.min(results.length - 1, chosen + step)));
    } else if (e.key === 'Enter') {
      const f = results[chosen];
      if (f) go(f);
    }
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby={`${list}-title`}>
      <DialogTitle id={`${list}-title`}>{t.title}</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label={t.label}
          helperText={t.hint}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
          }}
          onKeyDown={onKey}
          sx={{ mt: 1 }}
          slotProps={{
            htmlInput: {
              role: 'combobox',
              'aria-expanded': results.length > 0,
              'aria-controls': list,
              'aria-activedescendant': results.length > 0 ? `${list}-${chosen}` : undefined,
              autoComplete: 'off',
            },
          }}
        />
        {text.trim() !== '' && results.length === 0 && (
          <Typography role="status" variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
            {t.nothing}
          </Typography>
        )}
        <Box
          component="ul"
          role="listbox"
          id={list}
          aria-label={t.results}
          sx={{ listStyle: 'none', m: 0, p: 0, mt: 1 }}
        >
          {results.map((f, i) => (
            <Box
              component="li"
              key={f.to}
              role="option"
              id={`${list}-${i}`}
              aria-selected={i === chosen}
              onClick={() => go(f)}
              sx={{
                px: 1,
                py: 0.75,
                cursor: 'pointer',
                overflowWrap: 'anywhere',
                ...(i === chosen
                  ? {
                      bgcolor: 'var(--mui-palette-signal-sunken)',
                      boxShadow: 'inset 4px 0 0 var(--mui-palette-text-primary)',
                    }
                  : {}),
              }}
            >
              <Box component="span" sx={{ fontWeight: 600 }}>
                {f.name}
              </Box>{' '}
              <Box component="span" sx={{ color: 'text.secondary', fontSize: 13 }}>
                {f.about}
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  );
}
