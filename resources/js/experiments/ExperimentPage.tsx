import { lazy, Suspense, useState, type ComponentType, type LazyExoticComponent, type ReactNode } from 'react';
import { useParams } from 'react-router';
import type { Experiment, LinkName, Observations, Site } from '../api/client';
import { useWatchedExperiment } from '../api/experiments';
import { useObservations, useRight, useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { LINKS } from '../parts/chain';
import { Counting } from '../parts/Counting';
import { Waiting } from '../parts/Waiting';
import { Actions } from './Actions';
import { ChangePanel } from './ChangePanel';
import { DraftPage } from './DraftPage';
import { ChainBar, Head } from './Head';
import { Workbench } from './links/Workbench';

/** Views of an experiment beside its chain, by the end of their address. */
const VIEWS: Partial<Record<string, LazyExoticComponent<ComponentType<{ site: Site; experiment: Experiment }>>>> = {
    plan: lazy(async () => ({ default: (await import('./planning/PlanPage')).PlanPage })),
    ready: lazy(async () => ({ default: (await import('./ready/ReadyPage')).ReadyPage })),
    preview: lazy(async () => ({ default: (await import('./preview/PreviewPage')).PreviewPage })),
    rehearsal: lazy(async () => ({ default: (await import('../rehearsals/RehearsalPage')).RehearsalPage })),
    audits: lazy(async () => ({ default: (await import('../audits/ExperimentAudits')).ExperimentAudits })),
    readout: lazy(async () => ({ default: (await import('./readout/ReadoutPage')).ReadoutPage })),
    logbook: lazy(async () => ({ default: (await import('../logbook/ExperimentLogbook')).ExperimentLogbook })),
};

/** One experiment: its chain, and under it what was declared beside what was observed. */
export function ExperimentPage() {
    const key = useSiteKey();
    const params = useParams();
    const name = params.experiment ?? '';
    const site = useSite(key);
    const experiment = useWatchedExperiment(key, name);
    const observations = useObservations(key, name);
    const right = useRight(key);
    const View = VIEWS[params.link ?? ''] ?? null;
    const chosen = LINKS.find(({ link }) => link === params.link)?.link;

    return (
        <Waiting query={experiment}>
            {(declared) => (
                <Waiting query={site}>
                    {(known) => (
                        <Waiting query={observations}>
                            {(observed) =>
                                View !== null ? (
                                    <Beside experiment={declared} observed={observed}>
                                        <View key={declared.key} site={known} experiment={declared} />
                                    </Beside>
                                ) : declared.state === 'draft' && right !== 'look' ? (
                                    <DraftPage key={declared.key} site={known} experiment={declared} observed={observed} chosen={chosen} />
                                ) : (
                                    <Read
                                        key={declared.key}
                                        site={known}
                                        experiment={declared}
                                        observed={observed}
                                        updated={observations.dataUpdatedAt}
                                        chosen={chosen}
                                        mayChange={right === 'publish' || right === 'own'}
                                    />
                                )
                            }
                        </Waiting>
                    )}
                </Waiting>
            )}
        </Waiting>
    );
}

/** A view of the experiment beside its chain. */
function Beside({ experiment, observed, children }: { experiment: Experiment; observed: Observations; children: ReactNode }) {
    return (
        <>
            <Head experiment={experiment} received={observed.received}>
                <Actions experiment={experiment} isReady={experiment.unfinished === null} />
            </Head>
            <ChainBar
                experiment={experiment}
                observed={observed}
                chosen={null}
                first={experiment.state === 'draft' ? 'What it is' : 'Whole chain'}
            />
            <Suspense fallback={<p className="p-6 text-soft">Reading…</p>}>{children}</Suspense>
        </>
    );
}

interface Props {
    site: Site;
    experiment: Experiment;
    observed: Observations;
    updated: number;
    chosen?: LinkName;
    mayChange: boolean;
}

/** An experiment that has started: its leaves are read; what can still be changed is changed on purpose. */
function Read({ site, experiment, observed, updated, chosen, mayChange }: Props) {
    const [changing, setChanging] = useState<LinkName | 'what' | null>(null);
    const isOver =
        experiment.state === 'ended' || experiment.state === 'archived' || experiment.state === 'draft' || experiment.state === 'scheduled';
    const here = chosen ?? 'what';

    return (
        <>
            <Head experiment={experiment} received={observed.received} updated={updated}>
                <Actions experiment={experiment} isReady />
            </Head>
            <ChainBar experiment={experiment} observed={observed} chosen={chosen} first="Whole chain">
                <p role="status">{observed.chain.words}</p>
                {!isOver && mayChange && chosen !== 'snippet' && changing !== here && (
                    <Button onClick={() => setChanging(here)}>{chosen ? 'Change…' : 'Change name and reasons…'}</Button>
                )}
            </ChainBar>
            <Counting counted={observed.counted} className="mx-auto max-w-7xl px-5 pt-2" />
            {changing === here ? (
                <ChangePanel
                    key={`${experiment.revision} ${here}`}
                    site={site}
                    experiment={experiment}
                    observed={observed}
                    chosen={chosen}
                    onDone={() => setChanging(null)}
                />
            ) : !fits(experiment, observed) ? (
                <p className="p-6 text-soft">Reading…</p>
            ) : (
                <Workbench site={site} experiment={experiment} observed={observed} chosen={chosen} />
            )}
        </>
    );
}

/** Whether what was observed is of the experiment as it is: just after a change it may still be of the one before. */
function fits(experiment: Experiment, observed: Observations): boolean {
    const same = (one: { key: string }[], other: { key: string }[]): boolean =>
        one.map(({ key }) => key).join(' ') === other.map(({ key }) => key).join(' ');

    return same(experiment.variants, observed.variants) && same(experiment.goals, observed.goals);
}
