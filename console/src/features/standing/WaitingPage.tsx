import { Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Empty, Go, Loading, PageTitle, Problem, Rows, Time } from '../../shared/ui/parts';
import { waiting } from './api';
import { waitingLink } from './model';

/** What only this person can bring on. */
export default function WaitingPage() {
  const w = useQuery(waiting());
  return (
    <>
      <PageTitle title="Waiting for you" />
      <Problem error={w.error} />
      {!w.data ? (
        <Loading what="what waits" />
      ) : w.data.length === 0 ? (
        <Empty>Nothing waits for you.</Empty>
      ) : (
        <Rows label="What waits for you" heads={['What', 'Version', 'Where', 'Still open', 'Since']}>
          {w.data.map((x) => (
            <tr key={x.what + x.link}>
              <td>
                <Go to={waitingLink(x)}>
                  {x.what.charAt(0).toUpperCase() + x.what.slice(1)} {x.link.startsWith('R-') ? '' : x.link}
                </Go>
              </td>
              <td>{x.link.startsWith('release ') ? 'all its members' : `${x.application} ${x.version}`}</td>
              <td>{x.site}</td>
              <td>
                <Typography variant="body2" color="textSecondary">
                  {x.sentence}
                </Typography>
              </td>
              <td>
                <Time at={x.since} />
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </>
  );
}
