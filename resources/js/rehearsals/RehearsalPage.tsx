import { useSearchParams } from 'react-router';
import type { Experiment, Site } from '../api/client';
import { isUnderWay, useRehearsal, useRehearsals } from '../api/rehearsals';
import { useRight } from '../api/queries';
import { Waiting } from '../parts/Waiting';
import { Asking } from './Asking';
import { Compared } from './Compared';
import { Evidence } from './Evidence';
import { Found } from './Found';
import { Pictures } from './Pictures';
import { Progress } from './Progress';
import { Proven } from './Proven';
import { Runs } from './Runs';
import { ScriptSteps } from './ScriptSteps';
import { Verdict } from './Verdict';
import { Way } from './Way';

/** The rehearsals of an experiment: the newest, or the one that the address names, with everything that it found. */
export function RehearsalPage({ site, experiment }: { site: Site; experiment: Experiment }) {
    const [search] = useSearchParams();
    const runs = useRehearsals(site.key, experiment.key);
    const mayWork = useRight(site.key) !== 'look';
    const named = Number(search.get('run')) || null;
    const run = named ?? runs.data?.[0]?.rehearsal ?? null;
    const report = useRehearsal(site.key, run);
    const against = Number(search.get('against')) || null;

    return (
        <div className="mx-auto grid max-w-7xl gap-x-8 gap-y-6 px-5 py-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,3fr)]">
            <div className="min-w-0 space-y-6">
                {run === null ? (
                    runs.isSuccess && (
                        <p className="max-w-2xl">
                            It has not been rehearsed yet. A real browser opens its pages as visitors would, looks at every change on three
                            screens, walks to every goal, and keeps what it saw.
                        </p>
                    )
                ) : (
                    <Waiting query={report}>
                        {(found) => (
                            <>
                                <Verdict site={site.key} report={found} />
                                {isUnderWay(found) && <Progress site={site.key} report={found} mayCancel={mayWork} />}
                                {against !== null && <Compared site={site.key} run={found.rehearsal} against={against} />}
                                <Found site={site.key} experiment={experiment.key} report={found} />
                                <Evidence site={site.key} report={found} />
                                <Pictures site={site.key} experiment={experiment} report={found} />
                                <Way site={site.key} experiment={experiment} report={found} />
                                <Proven report={found} />
                            </>
                        )}
                    </Waiting>
                )}
            </div>
            <div className="min-w-0 space-y-6">
                {mayWork && <Asking site={site.key} experiment={experiment} busy={(runs.data ?? []).some(isUnderWay)} />}
                <Waiting query={runs}>{(all) => <Runs site={site.key} experiment={experiment.key} all={all} chosen={run} />}</Waiting>
                <ScriptSteps site={site.key} experiment={experiment} report={report.data} mayWrite={mayWork} />
            </div>
        </div>
    );
}
