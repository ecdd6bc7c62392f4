import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Problem } from './api/client';
import { useSession } from './api/queries';
import { address } from './app/address';
import { Shell } from './app/Shell';
import { SignIn } from './app/SignIn';
import { Bench } from './bench/Bench';
import { ExperimentForm } from './experiments/ExperimentForm';
import { ExperimentPage } from './experiments/ExperimentPage';
import { Capture } from './measures/Capture';
import { EventPage } from './measures/EventPage';
import { Events } from './measures/Events';
import { GoalPage } from './measures/GoalForm';
import { Goals } from './measures/Goals';
import { LiveFeed } from './measures/LiveFeed';
import './styles.css';
import { Briefs } from './wiring/Briefs';
import { Coverage } from './wiring/Coverage';
import { Groups } from './wiring/Groups';
import { Inspect } from './wiring/Inspect';
import { Tags } from './wiring/Tags';
import { Version } from './wiring/Version';
import { Wiring } from './wiring/Wiring';

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
    const first = session.data?.sites[0];
    if (session.isPending) {
        return null;
    }
    if (!session.data) {
        return <Navigate to="/sign-in" replace />;
    }

    return first ? <Navigate to={address.bench(first.key)} replace /> : <p className="p-6">You look after no site yet.</p>;
}

const router = createBrowserRouter([
    { path: '/', element: <FirstSite />, errorElement: <Broken /> },
    { path: '/sign-in', element: <SignIn /> },
    {
        path: '/sites/:site',
        element: <Shell />,
        errorElement: <Broken />,
        children: [
            { index: true, element: <Navigate to="bench" replace /> },
            { path: 'bench', element: <Bench /> },
            { path: 'wiring', element: <Wiring /> },
            { path: 'wiring/tags/:tag?', element: <Tags /> },
            { path: 'wiring/versions/:version', element: <Version /> },
            { path: 'wiring/coverage/:page?', element: <Coverage /> },
            { path: 'wiring/groups', element: <Groups /> },
            { path: 'wiring/briefs', element: <Briefs /> },
            { path: 'wiring/inspect', element: <Inspect /> },
            { path: 'measures', element: <Goals /> },
            { path: 'measures/goals/:goal', element: <GoalPage /> },
            { path: 'measures/feed/:event?', element: <LiveFeed /> },
            { path: 'measures/events', element: <Events /> },
            { path: 'measures/events/:event', element: <EventPage /> },
            { path: 'measures/capture', element: <Capture /> },
            { path: 'experiments/new', element: <ExperimentForm /> },
            { path: 'experiments/:experiment/edit', element: <ExperimentForm /> },
            { path: 'experiments/:experiment/:link?', element: <ExperimentPage /> },
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
        </QueryClientProvider>
    </StrictMode>,
);
