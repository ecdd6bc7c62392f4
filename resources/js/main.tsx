import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Problem } from './api/client';
import { useSession } from './api/queries';
import { useBegin } from './api/sites';
import { address } from './app/address';
import { AskOthers } from './app/AskOthers';
import { Confirm } from './app/Confirm';
import { forWorkers } from './app/LookOnly';
import { NoSite } from './app/NoSite';
import { Shell } from './app/Shell';
import './styles.css';

/** What is left to say when a view cannot be drawn at all. */
function Broken() {
    return (
        <main className="p-6" role="alert">
            <p>This view could not be drawn. Reload the page; if it happens again, the address above tells where.</p>
        </main>
    );
}

/** From `/` to the first site of whoever is signed in. */
function FirstSite() {
    const session = useSession();
    const begin = useBegin();
    const first = session.data?.sites.find(({ archived }) => !archived) ?? session.data?.sites[0];
    if (session.isPending || (!session.data && begin.isPending)) {
        return null;
    }
    if (!session.data) {
        return <Navigate to={begin.data?.awaited ? '/begin' : '/sign-in'} replace />;
    }

    return first ? (
        <Navigate to={address.bench(first.key)} replace />
    ) : (
        <NoSite name={session.data.name} makesSites={session.data.makes_sites} />
    );
}

/** Each view is loaded when it is first gone to. */
const router = createBrowserRouter([
    { path: '/', element: <FirstSite />, errorElement: <Broken /> },
    {
        path: '/sign-in',
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        lazy: async () => ({ Component: (await import('./app/SignIn')).SignIn }),
    },
    {
        path: '/begin',
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        lazy: async () => ({ Component: (await import('./sites/Begin')).Begin }),
    },
    {
        path: '/new-site',
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        lazy: async () => ({ Component: (await import('./sites/NewSite')).NewSite }),
    },
    {
        path: '/reset/:token?',
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        lazy: async () => ({ Component: (await import('./app/Reset')).Reset }),
    },
    {
        path: '/invitation/:token',
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        lazy: async () => ({ Component: (await import('./app/InvitationPage')).InvitationPage }),
    },
    {
        path: '/sites/:site',
        element: <Shell />,
        hydrateFallbackElement: <p className="p-6 text-soft">Reading…</p>,
        errorElement: <Broken />,
        children: [
            { index: true, element: <Navigate to="bench" replace /> },
            { path: 'bench', lazy: async () => ({ Component: (await import('./bench/Bench')).Bench }) },
            { path: 'wiring', lazy: async () => ({ Component: (await import('./wiring/Wiring')).Wiring }) },
            { path: 'wiring/tags/:tag?', lazy: async () => ({ Component: forWorkers((await import('./wiring/Tags')).Tags) }) },
            { path: 'wiring/versions/:version', lazy: async () => ({ Component: (await import('./wiring/Version')).Version }) },
            { path: 'wiring/coverage/:page?', lazy: async () => ({ Component: (await import('./wiring/Coverage')).Coverage }) },
            { path: 'wiring/groups', lazy: async () => ({ Component: forWorkers((await import('./wiring/Groups')).Groups) }) },
            { path: 'wiring/briefs', lazy: async () => ({ Component: (await import('./wiring/Briefs')).Briefs }) },
            { path: 'wiring/inspect', lazy: async () => ({ Component: forWorkers((await import('./wiring/Inspect')).Inspect) }) },
            {
                path: 'wiring/installation',
                lazy: async () => ({ Component: (await import('./rehearsals/InstallationPage')).InstallationPage }),
            },
            { path: 'wiring/published', lazy: async () => ({ Component: (await import('./wiring/Published')).Published }) },
            { path: 'audits', lazy: async () => ({ Component: (await import('./audits/Audits')).Audits }) },
            { path: 'audits/logs/:log?', lazy: async () => ({ Component: (await import('./audits/LogPage')).LogPage }) },
            { path: 'audits/reconcile', lazy: async () => ({ Component: (await import('./audits/Reconcile')).Reconcile }) },
            {
                path: 'audits/reconcile/:reconciliation',
                lazy: async () => ({ Component: (await import('./audits/ReconciliationPage')).ReconciliationPage }),
            },
            { path: 'audits/:audit/:view?', lazy: async () => ({ Component: (await import('./audits/AuditPage')).AuditPage }) },
            { path: 'notices', lazy: async () => ({ Component: (await import('./notices/Notices')).Notices }) },
            { path: 'notices/settings', lazy: async () => ({ Component: (await import('./notices/Settings')).Settings }) },
            { path: 'notices/webhooks', lazy: async () => ({ Component: (await import('./notices/Webhooks')).Webhooks }) },
            { path: 'notices/told', lazy: async () => ({ Component: (await import('./notices/Told')).Told }) },
            { path: 'notices/outbox/:mail?', lazy: async () => ({ Component: (await import('./notices/Outbox')).Outbox }) },
            { path: 'learned', lazy: async () => ({ Component: (await import('./experiments/Learned')).Learned }) },
            { path: 'first-steps', lazy: async () => ({ Component: forWorkers((await import('./sites/FirstSteps')).FirstSteps) }) },
            { path: 'requests/:request?', lazy: async () => ({ Component: (await import('./requests/Requests')).Requests }) },
            { path: 'settings', lazy: async () => ({ Component: (await import('./sites/SettingsPage')).SettingsPage }) },
            { path: 'internal-traffic', lazy: async () => ({ Component: (await import('./sites/InternalPage')).InternalPage }) },
            { path: 'account/:part?', lazy: async () => ({ Component: (await import('./account/AccountPage')).AccountPage }) },
            { path: 'logbook/security', lazy: async () => ({ Component: (await import('./logbook/SecurityLog')).SecurityLog }) },
            { path: 'logbook', lazy: async () => ({ Component: (await import('./logbook/Logbook')).Logbook }) },
            { path: 'people/:person?', lazy: async () => ({ Component: (await import('./people/People')).People }) },
            { path: 'measures', lazy: async () => ({ Component: (await import('./measures/Goals')).Goals }) },
            { path: 'measures/goals/:goal', lazy: async () => ({ Component: forWorkers((await import('./measures/GoalForm')).GoalPage) }) },
            { path: 'measures/feed/:event?', lazy: async () => ({ Component: (await import('./measures/LiveFeed')).LiveFeed }) },
            { path: 'measures/events', lazy: async () => ({ Component: (await import('./measures/Events')).Events }) },
            {
                path: 'measures/events/:event',
                lazy: async () => ({ Component: forWorkers((await import('./measures/EventPage')).EventPage) }),
            },
            { path: 'measures/capture', lazy: async () => ({ Component: forWorkers((await import('./measures/Capture')).Capture) }) },
            {
                path: 'experiments/new',
                lazy: async () => ({ Component: forWorkers((await import('./experiments/MakeExperiment')).MakeExperiment) }),
            },
            {
                path: 'experiments/:experiment/:link?',
                lazy: async () => ({ Component: (await import('./experiments/ExperimentPage')).ExperimentPage }),
            },
            { path: '*', element: <p className="p-6">There is no such page. The sections are in the bar above.</p> },
        ],
    },
    { path: '*', element: <Navigate to="/" replace /> },
]);

/** A session that ended shows as signed out at once, wherever it is noticed. */
function noticeSignOut(error: Error): void {
    if (error instanceof Problem && error.status === 401 && client.getQueryData(['session'])) {
        client.setQueryData(['session'], null);
    }
}

const client: QueryClient = new QueryClient({
    queryCache: new QueryCache({ onError: noticeSignOut }),
    mutationCache: new MutationCache({ onError: noticeSignOut }),
    defaultOptions: { queries: { retry: (failures, error) => !(error instanceof Problem && error.status >= 400) && failures < 2 } },
});

createRoot(document.getElementById('root') as HTMLElement).render(
    <StrictMode>
        <QueryClientProvider client={client}>
            <RouterProvider router={router} />
            <Confirm />
            <AskOthers />
        </QueryClientProvider>
    </StrictMode>,
);
