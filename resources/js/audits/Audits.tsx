import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useAskAudit, useAudits } from '../api/audits';
import { useExperiments, useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button, ButtonLink } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { AuditRows } from './AuditRows';

/** Every audit of the site, the newest first; an experiment or a log is audited from here. */
export function Audits() {
    const site = useSiteKey();
    const audits = useAudits(site);
    const mayWork = useRight(site) !== 'look';
    useTitle('Audits');

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
                <h1 className="text-xl font-semibold">Audits</h1>
                <p className="min-w-0 flex-1 basis-60 text-soft">Is this data fit to decide on, and if not, since when and for whom?</p>
                {mayWork && <Ask />}
                <ButtonLink to={address.auditLogs(site)}>Audit a log…</ButtonLink>
                <ButtonLink to={address.reconcile(site)}>Reconcile…</ButtonLink>
            </div>
            <Waiting query={audits}>{(all) => (all.length === 0 ? <Nothing /> : <AuditRows all={all} />)}</Waiting>
        </div>
    );
}

function Nothing() {
    return (
        <p className="border-y border-line bg-leaf p-8 text-soft">
            Nothing has been audited yet. Choose an experiment that has started, or bring an event log from elsewhere: NDJSON or CSV, with
            columns of any name.
        </p>
    );
}

function Ask() {
    const site = useSiteKey();
    const navigate = useNavigate();
    const experiments = useExperiments(site).data ?? [];
    const started = experiments.filter(({ started_at }) => started_at !== null);
    const [chosen, setChosen] = useState('');
    const ask = useAskAudit(site);
    const experiment = started.find(({ key }) => key === chosen)?.key ?? started[0]?.key;
    if (!experiment) {
        return null;
    }

    return (
        <div className="flex flex-wrap items-center gap-2">
            <div className="w-64">
                <Choice
                    label="Experiment"
                    value={experiment}
                    options={started.map(({ key, name }) => ({ value: key, label: name }))}
                    onChange={setChosen}
                />
            </div>
            <Button
                look="main"
                disabled={ask.isPending}
                onClick={() => ask.mutate({ experiment }, { onSuccess: ({ audit }) => navigate(address.audit(site, audit)) })}
            >
                Audit it
            </Button>
            {ask.error && (
                <p role="alert" className="basis-full text-sm text-broken">
                    {ask.error.message}
                </p>
            )}
        </div>
    );
}
