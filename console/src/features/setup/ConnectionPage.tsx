import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Changes } from '../../shared/ui/Changes';
import { Go, Loading, PageTitle, Panel, Problem } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { connections } from './api';
import { Found } from './parts/Connections';
import { t } from './texts';

/** One connection: where it leads, what its last test found, who changed it. */
export default function ConnectionPage() {
  const { stage = '', name = '' } = useParams();
  const all = useQuery(connections(stage));
  const one = all.data?.find((c) => c.name === name);
  return (
    <>
      <PageTitle
        title={t.connectionTitle(`${stage}/${name}`)}
        note={<Go to={`/setup/stages/${stage}`}>{t.stageTitle(stage)}</Go>}
      />
      <SetupParts />
      <Problem error={all.error} />
      {!all.data ? (
        !all.error && <Loading what={name} />
      ) : one ? (
        <Panel>
          <Found c={one} whole />
        </Panel>
      ) : (
        <Problem error={t.noConnection(`${stage}/${name}`)} />
      )}
      <Changes of={`connection/${stage}/${name}`} />
    </>
  );
}
