import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Experiment, Schemas } from '../api/client';
import { useKeepRehearsalPlan, useRehearsalPlan, useRehearse } from '../api/rehearsals';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { SCREENS } from '../parts/vocabulary';

type Screen = Schemas['RehearsalScreen'];

/** Asks for a rehearsal, of all or of some variants and screens. */
export function Asking({ site, experiment, busy }: { site: string; experiment: Experiment; busy: boolean }) {
    const ask = useRehearse(site, experiment.key);
    const navigate = useNavigate();
    const [without, setWithout] = useState<string[]>([]);
    const [unseen, setUnseen] = useState<Screen[]>([]);
    const screens = (Object.keys(SCREENS) as Screen[]).filter((one) => !unseen.includes(one));
    const variants = experiment.variants.filter(({ key, control }) => control || !without.includes(key)).map(({ key }) => key);

    return (
        <section aria-label="Rehearse" className="space-y-2 border border-line bg-leaf p-3">
            <Button
                look="main"
                disabled={busy || ask.isPending || screens.length === 0}
                onClick={() =>
                    ask.mutate(
                        { variants: without.length === 0 ? [] : variants, screens: unseen.length === 0 ? [] : screens },
                        { onSuccess: (made) => navigate(address.rehearsal(site, experiment.key, made.rehearsal)) },
                    )
                }
            >
                Rehearse now
            </Button>
            {busy && <p className="text-sm text-soft">One is under way.</p>}
            <Some label="Variants">
                {experiment.variants.map(({ key, name, control }) => (
                    <Box
                        key={key}
                        label={name}
                        checked={control || !without.includes(key)}
                        disabled={control}
                        onChange={(is) => setWithout(is ? without.filter((one) => one !== key) : [...without, key])}
                    />
                ))}
            </Some>
            <Some label="Screens">
                {(Object.keys(SCREENS) as Screen[]).map((one) => (
                    <Box
                        key={one}
                        label={SCREENS[one]}
                        checked={!unseen.includes(one)}
                        onChange={(is) => setUnseen(is ? unseen.filter((other) => other !== one) : [...unseen, one])}
                    />
                ))}
            </Some>
            <Repeating site={site} experiment={experiment.key} />
            {screens.length === 0 && <p className="text-sm text-broken">Choose a screen at least.</p>}
            {ask.error && (
                <p role="alert" className="text-broken">
                    {ask.error.message}
                </p>
            )}
        </section>
    );
}

function Some({ label, children }: { label: string; children: React.ReactNode }) {
    return (
        <fieldset className="text-sm">
            <legend className="text-soft">{label}</legend>
            {children}
        </fieldset>
    );
}

function Box({ label, ...rest }: { label: string; checked: boolean; disabled?: boolean; onChange: (is: boolean) => void }) {
    return (
        <label className="flex min-h-7 items-center gap-2">
            <input
                type="checkbox"
                className="size-4 accent-accent"
                checked={rest.checked}
                disabled={rest.disabled}
                onChange={(event) => rest.onChange(event.target.checked)}
            />
            {label}
        </label>
    );
}

/** When it is held again by itself, while the experiment runs. */
function Repeating({ site, experiment }: { site: string; experiment: string }) {
    const plan = useRehearsalPlan(site, experiment);
    const keep = useKeepRehearsalPlan(site, experiment);
    if (!plan.data) {
        return null;
    }
    const { daily_at, after_publication } = plan.data;

    return (
        <Some label="While it runs, by itself">
            <Box
                label="every day at"
                checked={daily_at !== null}
                onChange={(is) => keep.mutate({ daily_at: is ? '06:00' : null, after_publication })}
            />
            {daily_at !== null && (
                <input
                    type="time"
                    aria-label="Time of the day"
                    className="mb-1 ml-8 border border-line bg-leaf px-2 py-0.5"
                    defaultValue={daily_at}
                    onBlur={(event) => event.target.value && keep.mutate({ daily_at: event.target.value, after_publication })}
                />
            )}
            <Box
                label="after each publication"
                checked={after_publication}
                onChange={(is) => keep.mutate({ daily_at, after_publication: is })}
            />
            {keep.error && (
                <p role="alert" className="text-broken">
                    {keep.error.message}
                </p>
            )}
        </Some>
    );
}
