import { Typography } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Calls } from '../../shared/news/Calls';
import { Empty, Go, Loading, More, PageTitle, Problem, Rows, Time } from '../../shared/ui/parts';
import type { Schemas } from '../../shared/data/api';
import { itemsOf } from '../../shared/data/lists';
import { AtWork } from '../../shared/ui/Underway';
import { waiting } from './api';
import { waitingLink, waitingWords } from './model';
import { t } from './texts';

function ToDo({ item }: { item: Schemas['WaitingView'] }) {
  const { text, label } = waitingWords(item);
  return (
    <Go to={waitingLink(item)} label={label}>
      {text}
    </Go>
  );
}

/** What only this person can bring on. */
export default function WaitingPage() {
  const w = useInfiniteQuery(waiting());
  const items = itemsOf(w.data);
  return (
    <>
      <PageTitle title={t.waitingPage.waitingForYou} />
      <Calls />
      <Problem error={w.error} />
      {!items ? (
        <Loading what={t.waitingPage.whatWaits} />
      ) : items.length === 0 ? (
        <Empty>{t.waitingPage.nothingWaitsForYou}</Empty>
      ) : (
        <>
          <Rows label={t.waitingPage.whatWaitsForYou} heads={t.waitingPage.heads}>
            {items.map((x) => (
              <tr key={x.what + x.link + x.application + x.site}>
                <td>
                  <ToDo item={x} />
                </td>
                <td>{x.link.startsWith('release ') ? t.waitingPage.allItsMembers : `${x.application} ${x.version}`}</td>
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
          <More of={w} />
        </>
      )}
      <AtWork />
    </>
  );
}
