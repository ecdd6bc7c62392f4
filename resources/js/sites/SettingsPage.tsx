import { useState, type FormEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { useArchive, useDeleteSite, useKeepSettings, useSiteSettings, type SiteDraft, type SiteSettings } from '../api/sites';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Tick } from '../parts/RuleBuilder';
import { useDraft } from '../parts/useDraft';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { HostList } from './HostList';
import { KeysPart } from './KeysPart';
import { Since } from './Since';
import { ZoneAndCurrency } from './ZoneAndCurrency';

type Draft = Required<SiteDraft>;

/** The settings of the site: what each affects, and since when it is as it is. */
export function SettingsPage() {
    const site = useSiteKey();
    const settings = useSiteSettings(site);
    useTitle('Site settings');

    return (
        <div className="mx-auto max-w-4xl px-5 py-4">
            <h1 className="mb-3 text-xl font-semibold">Site settings</h1>
            <Waiting query={settings}>
                {(kept) => (
                    <>
                        <Form kept={kept} />
                        <KeysPart isArchived={kept.archived_at !== null} />
                        <GiveOut />
                        <Archive kept={kept} />
                    </>
                )}
            </Waiting>
        </div>
    );
}

function Form({ kept }: { kept: SiteSettings }) {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    const save = useKeepSettings(site);
    const form = useDraft<Draft>(() => {
        const { name, hosts, time_zone, currency, cookie_days, session_minutes, srm_alpha, fresh_seconds, two_people } = kept;

        return { name, hosts, time_zone, currency, cookie_days, session_minutes, srm_alpha, fresh_seconds, two_people };
    }, save);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate({ ...draft, hosts: draft.hosts.filter((host) => host.trim() !== '') }, { onSuccess: () => form.kept() });
    };
    const number = (text: string): number => (text.trim() === '' ? Number.NaN : Number(text));

    return (
        <form onSubmit={submit} noValidate>
            <fieldset disabled={!isOwner || kept.archived_at !== null} className="space-y-5">
                <TextField
                    label="Name"
                    value={draft.name}
                    error={errors.name}
                    note={<Since of="name" />}
                    onChange={(event) => set({ name: event.target.value })}
                />
                <div>
                    <HostList hosts={draft.hosts} errors={errors} onChange={(hosts) => set({ hosts })} />
                    <Since of="hosts" />
                </div>
                <ZoneAndCurrency
                    draft={draft}
                    errors={errors}
                    set={set}
                    notes={{ time_zone: <Since of="time_zone" />, currency: <Since of="currency" /> }}
                />
                <div className="grid gap-4 sm:grid-cols-2">
                    <TextField
                        label="Visitor cookie, days"
                        type="number"
                        min={1}
                        max={400}
                        value={Number.isNaN(draft.cookie_days) ? '' : draft.cookie_days}
                        error={errors.cookie_days}
                        note={
                            <>
                                Whoever comes back later is a new visitor. Browsers may end cookies earlier. <Since of="cookie_days" />
                            </>
                        }
                        onChange={(event) => set({ cookie_days: number(event.target.value) })}
                    />
                    <TextField
                        label="Session timeout, minutes"
                        type="number"
                        min={1}
                        max={1440}
                        value={Number.isNaN(draft.session_minutes) ? '' : draft.session_minutes}
                        error={errors.session_minutes}
                        note={
                            <>
                                A longer pause begins another session. Goals that are counted by session are counted anew.{' '}
                                <Since of="session_minutes" />
                            </>
                        }
                        onChange={(event) => set({ session_minutes: number(event.target.value) })}
                    />
                    <TextField
                        label="Alarm level for sample ratio mismatch"
                        type="number"
                        step="any"
                        value={Number.isNaN(draft.srm_alpha) ? '' : draft.srm_alpha}
                        error={errors.srm_alpha}
                        note={
                            <>
                                Below this p-value the split is called wrong; 0.001 is usual. <Since of="srm_alpha" />
                            </>
                        }
                        onChange={(event) => set({ srm_alpha: number(event.target.value) })}
                    />
                    <TextField
                        label="Evidence is fresh for, hours"
                        type="number"
                        min={1}
                        max={720}
                        value={Number.isNaN(draft.fresh_seconds) ? '' : draft.fresh_seconds / 3600}
                        error={errors.fresh_seconds}
                        note={
                            <>
                                Older evidence is called stale, whatever it said. <Since of="fresh_seconds" />
                            </>
                        }
                        onChange={(event) => set({ fresh_seconds: Math.round(number(event.target.value) * 3600) })}
                    />
                </div>
                <div>
                    <Tick
                        label="What pages run is published only once somebody else has agreed"
                        on={draft.two_people}
                        onChange={() => set({ two_people: !draft.two_people })}
                    />
                    <p className="text-sm text-soft">
                        For tags, starts, and changes of what runs: whoever prepares it asks, and another person who may publish agrees.
                        Pausing and ending need nobody else. <Since of="two_people" />
                    </p>
                </div>
                <p className="text-soft">
                    Consent, the data layer and what else pages send stand under{' '}
                    <Link to={address.capture(site)} className="text-accent underline underline-offset-4">
                        Capture
                    </Link>
                    ; page groups under{' '}
                    <Link to={address.groups(site)} className="text-accent underline underline-offset-4">
                        Wiring
                    </Link>
                    ; own people, who are not counted, under{' '}
                    <Link to={address.internal(site)} className="text-accent underline underline-offset-4">
                        Internal traffic
                    </Link>
                    .
                </p>
                {isOwner && <FormFoot form={form} submit="Keep" saved="Kept" />}
            </fieldset>
        </form>
    );
}

/** What can be taken elsewhere. */
function GiveOut() {
    const site = useSiteKey();
    if (useRight(site) !== 'own') {
        return null;
    }

    return (
        <section aria-labelledby="give-out" className="mt-8 border-t border-line pt-4">
            <h2 id="give-out" className="mb-2 text-lg font-semibold">
                Take it elsewhere
            </h2>
            <p className="max-w-3xl">
                <a href={address.siteFile(site)} className="text-accent underline underline-offset-4" download>
                    What was declared
                </a>
                : settings, tags, goals, the tracking plan and experiments, as one file. Whoever runs this copy gives out the events, as an
                event log of any length: <code className="font-mono text-sm">bin/pellix site {site} --events=FILE</code>.
            </p>
        </section>
    );
}

/** For an archived site that nobody needs any more. */
function Delete({ kept }: { kept: SiteSettings }) {
    const site = useSiteKey();
    const remove = useDeleteSite(site);
    const navigate = useNavigate();
    const [asks, setAsks] = useState(false);
    const [typed, setTyped] = useState('');

    return (
        <>
            <Button look="danger" className="ml-3" onClick={() => setAsks(true)}>
                Delete it with everything
            </Button>
            <Question
                open={asks}
                title={`Delete “${kept.name}” with everything?`}
                yes="Delete it"
                danger
                busy={remove.isPending || typed !== kept.name}
                error={remove.error?.message}
                onYes={() => remove.mutate(typed, { onSuccess: () => navigate('/', { replace: true }) })}
                onNo={() => setAsks(false)}
            >
                <p>
                    Events, figures, experiments, goals, audits, rehearsals, the Logbook: all of it is gone at once for everybody, and from
                    the database within the hour. It cannot be taken back.
                </p>
                <p>
                    What stays: the accounts of its people, one line of the security log that says who deleted it, and backups that were
                    made before.
                </p>
                <TextField
                    label="Type the name of the site"
                    value={typed}
                    placeholder={kept.name}
                    onChange={(event) => setTyped(event.target.value)}
                />
            </Question>
        </>
    );
}

function Archive({ kept }: { kept: SiteSettings }) {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    const archive = useArchive(site);
    const [asks, setAsks] = useState(false);
    if (!isOwner) {
        return null;
    }

    return (
        <section aria-labelledby="archive" className="mt-8 border-t border-line pt-4">
            <h2 id="archive" className="mb-2 text-lg font-semibold">
                Archive
            </h2>
            {kept.archived_at ? (
                <>
                    <p className="mb-3">
                        Archived since <Moment at={kept.archived_at} />: events are refused, pages get nothing, and nothing can be changed.
                        What is there can be read.
                    </p>
                    <Button look="main" disabled={archive.isPending} onClick={() => archive.mutate(false)}>
                        Take it from the archive
                    </Button>
                    <Delete kept={kept} />
                </>
            ) : (
                <>
                    <p className="mb-3 max-w-3xl text-soft">
                        For a site that you no longer look after: events are refused from then on, its pages get nothing, and everything
                        stays to be read.
                    </p>
                    <Button look="danger" onClick={() => setAsks(true)}>
                        Archive the site
                    </Button>
                </>
            )}
            {archive.error && !asks && (
                <p role="alert" className="mt-2 text-broken">
                    {archive.error.message}
                </p>
            )}
            <Question
                open={asks}
                title={`Archive “${kept.name}”?`}
                yes="Archive it"
                danger
                busy={archive.isPending}
                error={archive.error?.message}
                onYes={() => archive.mutate(true, { onSuccess: () => setAsks(false) })}
                onNo={() => setAsks(false)}
            >
                <p>Tags and experiments leave its pages at once, and what visitors do is no longer counted. You can take it back.</p>
            </Question>
        </section>
    );
}
