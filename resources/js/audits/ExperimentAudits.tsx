import { useNavigate } from 'react-router';
import { isUnderWay, useAskAudit, useAudits } from '../api/audits';
import type { Experiment, Site } from '../api/client';
import { useRight } from '../api/queries';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { Waiting } from '../parts/Waiting';
import { AuditRows } from './AuditRows';

/** The audits of one experiment, the newest first. */
export function ExperimentAudits({ site, experiment }: { site: Site; experiment: Experiment }) {
    const audits = useAudits(site.key, experiment.key);
    const mayWork = useRight(site.key) !== 'look';
    const ask = useAskAudit(site.key);
    const navigate = useNavigate();

    return (
        <div className="mx-auto max-w-7xl space-y-3 px-5 py-4">
            <div className="flex flex-wrap items-center gap-4">
                <h2 className="text-lg font-semibold">Audits</h2>
                <p className="min-w-0 flex-1 text-soft">Is its data fit to decide on?</p>
                {mayWork && experiment.started_at !== null && (
                    <Button
                        look="main"
                        disabled={ask.isPending || (audits.data ?? []).some(isUnderWay)}
                        onClick={() =>
                            ask.mutate(
                                { experiment: experiment.key },
                                { onSuccess: ({ audit }) => navigate(address.audit(site.key, audit)) },
                            )
                        }
                    >
                        Audit it
                    </Button>
                )}
                {ask.error && (
                    <p role="alert" className="basis-full text-broken">
                        {ask.error.message}
                    </p>
                )}
            </div>
            <Waiting query={audits}>
                {(all) =>
                    all.length > 0 ? (
                        <AuditRows all={all} />
                    ) : (
                        <p className="border-y border-line bg-leaf p-8 text-soft">
                            {experiment.started_at === null
                                ? 'It has not been started: there is nothing to audit yet.'
                                : 'It has not been audited yet. While it runs it is audited every day and after each publication.'}
                        </p>
                    )
                }
            </Waiting>
        </div>
    );
}
