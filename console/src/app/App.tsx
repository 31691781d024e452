import { useQuery } from '@tanstack/react-query';
import { Component, lazy, Suspense, type ReactNode } from 'react';
import { Route, Routes, useLocation } from 'react-router';
import { ApiError, client, unwrap, useCsrf as setCsrf, type Schemas } from '../shared/data/api';
import { Loading, Problem } from '../shared/ui/parts';
import { Shell } from './Shell';
import { t } from './texts';

const SignInPage = lazy(() => import('../features/signin/Page'));
const StandingPage = lazy(() => import('../features/standing/Page'));
const WaitingPage = lazy(() => import('../features/standing/WaitingPage'));
const PromotionsPage = lazy(() => import('../features/promotions/ListPage'));
const PromotionPage = lazy(() => import('../features/promotions/Page'));
const RunsPage = lazy(() => import('../features/runs/ListPage'));
const RunPage = lazy(() => import('../features/runs/Page'));
const NightPage = lazy(() => import('../features/runs/NightPage'));
const FiguresPage = lazy(() => import('../features/figures/Page'));
const NewsPage = lazy(() => import('../features/news/Page'));
const TryPage = lazy(() => import('../features/runs/TryPage'));
const BackupsPage = lazy(() => import('../features/runs/BackupsPage'));
const PastPage = lazy(() => import('../features/standing/PastPage'));
const TellingPage = lazy(() => import('../features/telling/Page'));
const CalendarPage = lazy(() => import('../features/calendar/Page'));
const BetweenPage = lazy(() => import('../features/history/BetweenPage'));
const RetentionPage = lazy(() => import('../features/retention/Page'));
const HistoryPage = lazy(() => import('../features/history/Page'));
const RollbackPage = lazy(() => import('../features/rollback/Page'));
const StageRollbackPage = lazy(() => import('../features/rollback/StagePage'));
const DriftPage = lazy(() => import('../features/drift/Page'));
const BesidePage = lazy(() => import('../features/drift/BesidePage'));
const SetupPage = lazy(() => import('../features/setup/Page'));
const StagesPage = lazy(() => import('../features/setup/StagesPage'));
const StagePage = lazy(() => import('../features/setup/StagePage'));
const ConnectionPage = lazy(() => import('../features/setup/ConnectionPage'));
const PathsPage = lazy(() => import('../features/setup/PathsPage'));
const PathPage = lazy(() => import('../features/setup/PathPage'));
const ApplicationsPage = lazy(() => import('../features/setup/ApplicationsPage'));
const ValuesPage = lazy(() => import('../features/setup/ValuesPage'));
const ValuePage = lazy(() => import('../features/applications/ValuePage'));
const KeysPage = lazy(() => import('../features/packages/KeysPage'));
const KeyPage = lazy(() => import('../features/packages/KeysPage').then((m) => ({ default: m.KeyPage })));
const AdoptPage = lazy(() => import('../features/setup/AdoptPage'));
const ApplicationPage = lazy(() => import('../features/applications/Page'));
const VersionPage = lazy(() => import('../features/applications/VersionPage'));
const ComparePage = lazy(() => import('../features/applications/ComparePage'));
const PackagesPage = lazy(() => import('../features/packages/Page'));
const ReleasesPage = lazy(() => import('../features/releases/ListPage'));
const ReleasePage = lazy(() => import('../features/releases/Page'));
const WavesPage = lazy(() => import('../features/waves/ListPage'));
const WavePage = lazy(() => import('../features/waves/Page'));
const PeoplePage = lazy(() => import('../features/people/ListPage'));
const PersonPage = lazy(() => import('../features/people/Page'));
const RolesPage = lazy(() => import('../features/people/RolesPage'));
const ProposalsPage = lazy(() => import('../features/people/ProposalsPage'));
const OwnPage = lazy(() => import('../features/people/OwnPage'));
const DraftsPage = lazy(() => import('../features/drafts/ListPage'));
const DraftPage = lazy(() => import('../features/drafts/Page'));

/** One failed page doesn't take the console; it resets when the address changes. */
class Guard extends Component<{ children: ReactNode }, { error: unknown }> {
  state = { error: null as unknown };
  static getDerivedStateFromError(error: unknown) {
    return { error };
  }
  render() {
    return this.state.error ? <Problem error={this.state.error} /> : this.props.children;
  }
}

function SignIn({ change }: { change?: Schemas['Me'] }) {
  return (
    <Suspense fallback={<Loading what={t.app.thePage} />}>
      <SignInPage change={change} />
    </Suspense>
  );
}

export function App() {
  const location = useLocation();
  const me = useQuery({
    queryKey: ['session'],
    queryFn: () => unwrap(client.GET('/api/v1/session')),
    staleTime: 60_000,
    refetchInterval: 60_000,
  });
  if (me.isPending) return <Loading what={t.app.theConsole} />;
  if (me.error instanceof ApiError && me.error.status === 401) return <SignIn />;
  if (me.error && !me.data) return <Problem error={me.error} />;
  if (!me.data || me.data.mustChangePassword) return <SignIn change={me.data ?? undefined} />;
  setCsrf(me.data.csrf ?? '');
  return (
    <Shell me={me.data}>
      <Guard key={location.pathname}>
        <Suspense fallback={<Loading what={t.app.thePage} />}>
          <Routes>
            <Route path="/" element={<StandingPage />} />
            <Route path="/standing" element={<StandingPage />} />
            <Route path="/waiting" element={<WaitingPage />} />
            <Route path="/promotions" element={<PromotionsPage />} />
            <Route path="/promotions/:number" element={<PromotionPage />} />
            <Route path="/runs" element={<RunsPage />} />
            <Route path="/runs/:number" element={<RunPage />} />
            <Route path="/runs/:number/night" element={<NightPage />} />
            <Route path="/figures" element={<FiguresPage />} />
            <Route path="/news" element={<NewsPage />} />
            <Route path="/runs/:number/try" element={<TryPage />} />
            <Route path="/backups" element={<BackupsPage />} />
            <Route path="/standing/past" element={<PastPage />} />
            <Route path="/calendar" element={<CalendarPage />} />
            <Route path="/history" element={<HistoryPage />} />
            <Route path="/history/:application/:stage/:site" element={<BetweenPage />} />
            <Route path="/rollback/:application/:stage/:site" element={<RollbackPage />} />
            <Route path="/rollback/:application/:stage" element={<StageRollbackPage />} />
            <Route path="/drift/:application/:stage/:site" element={<DriftPage />} />
            <Route path="/compare/:application/:stage/:site" element={<BesidePage />} />
            <Route path="/setup" element={<SetupPage />} />
            <Route path="/setup/stages" element={<StagesPage />} />
            <Route path="/setup/stages/:key" element={<StagePage />} />
            <Route path="/setup/connections/:stage/:name" element={<ConnectionPage />} />
            <Route path="/setup/paths" element={<PathsPage />} />
            <Route path="/setup/paths/:key" element={<PathPage />} />
            <Route path="/setup/applications" element={<ApplicationsPage />} />
            <Route path="/setup/people" element={<PeoplePage />} />
            <Route path="/setup/people/:login" element={<PersonPage />} />
            <Route path="/setup/roles" element={<RolesPage />} />
            <Route path="/setup/roles/:key" element={<RolesPage />} />
            <Route path="/setup/telling" element={<TellingPage />} />
            <Route path="/setup/retention" element={<RetentionPage />} />
            <Route path="/setup/keys" element={<KeysPage />} />
            <Route path="/setup/keys/:id" element={<KeyPage />} />
            <Route path="/setup/proposals" element={<ProposalsPage />} />
            <Route path="/setup/values" element={<ValuesPage />} />
            <Route path="/applications/:application/values/:stage/:input" element={<ValuePage />} />
            <Route path="/applications/:application/adopt" element={<AdoptPage />} />
            <Route path="/applications/:application" element={<ApplicationPage />} />
            <Route path="/versions/:application/:number" element={<VersionPage />} />
            <Route path="/versions/:application/:from/compare/:to" element={<ComparePage />} />
            <Route path="/packages" element={<PackagesPage />} />
            <Route path="/releases" element={<ReleasesPage />} />
            <Route path="/releases/:key" element={<ReleasePage />} />
            <Route path="/waves" element={<WavesPage />} />
            <Route path="/waves/:number" element={<WavePage />} />
            <Route path="/you" element={<OwnPage />} />
            <Route path="/drafts" element={<DraftsPage />} />
            <Route path="/drafts/:id" element={<DraftPage />} />
            <Route path="*" element={<p>{t.app.thereIsNoSuchPage}</p>} />
          </Routes>
        </Suspense>
      </Guard>
    </Shell>
  );
}
