import { useState } from 'react';
import { Link } from 'react-router';
import type { Experiment } from '../../api/client';
import { useMoveExperiment, useReady, useTimetable } from '../../api/life';
import { usePlan } from '../../api/plans';
import { useSite } from '../../api/queries';
import { address, useSiteKey } from '../../app/address';
import { Choice } from '../../parts/Choice';
import { TextArea, TextField } from '../../parts/Field';
import { fieldErrors } from '../../parts/fieldErrors';
import { percent } from '../../parts/figures';
import { Question } from '../../parts/Question';
import { inWords } from '../../parts/ruleRows';
import { CHANGE_KINDS } from '../../parts/vocabulary';
import { ReachProgress } from '../known/ReachView';
import { clockOf, Ends, endsOf, type EndsForm } from './Ends';

type When = 'now' | 'later';

/** Before an experiment starts: what visitors will meet, what speaks against it, and when. */
export function StartQuestion({ experiment, open, onClose }: { experiment: Experiment; open: boolean; onClose: () => void }) {
    const site = useSiteKey();
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    // Looked through anew each time that somebody is about to start it.
    const [round] = useState(() => Date.now());
    const ready = useReady(site, experiment.key, experiment.revision, round, open);
    const move = useMoveExperiment(site, experiment.key);
    const times = useTimetable(site, experiment.key);
    const plan = usePlan(site, experiment.key).data;
    const [when, setWhen] = useState<When>(experiment.start_at ? 'later' : 'now');
    const [start, setStart] = useState(clockOf(experiment.start_at, zone));
    const [ends, setEnds] = useState<EndsForm>(endsOf(experiment, zone));
    const [reason, setReason] = useState('');
    const blockers = (ready.result?.points ?? []).filter(({ state }) => state === 'blocker');
    const errors = { ...fieldErrors(times.error), ...fieldErrors(move.error) };
    const isTimed =
        when === 'later' || ends.end !== '' || ends.visitors !== '' || experiment.start_at || experiment.end_at || experiment.end_visitors;
    const close = (): void => {
        move.reset();
        times.reset();
        onClose();
    };
    const go = async (): Promise<void> => {
        if (isTimed) {
            const body = {
                start: when === 'later' ? start || null : null,
                end: ends.end || null,
                end_visitors: ends.visitors ? Number(ends.visitors) : null,
            };
            await times.mutateAsync(body);
        }
        move.mutate({ action: when === 'now' ? 'start' : 'schedule', reason: reason.trim() || undefined }, { onSuccess: close });
    };
    const sum = experiment.variants.reduce((total, variant) => total + variant.weight, 0);

    return (
        <Question
            open={open}
            title={`Start “${experiment.name}”?`}
            yes={when === 'now' ? (blockers.length > 0 ? 'Start all the same' : 'Start') : 'Schedule it'}
            danger={blockers.length > 0}
            busy={move.isPending || times.isPending || ready.isRunning || (blockers.length > 0 && reason.trim().length < 3)}
            error={errors.action ?? (Object.keys(errors).length === 0 ? (move.error ?? times.error)?.message : undefined)}
            onYes={() => void go().catch(() => undefined)}
            onNo={close}
        >
            <p>
                From their next page view on, {percent(experiment.share, 0)} of visitors enter where {inWords(experiment.pages)}. They meet:{' '}
                {experiment.variants
                    .map(
                        (variant) =>
                            `${variant.name} (${percent(variant.weight / sum)}${variant.target ? `, sent to ${variant.target}` : ''})`,
                    )
                    .join(', ')}
                .
            </p>
            {experiment.variants.some(({ changes }) => changes.some(({ kind, off }) => !off && CHANGE_KINDS[kind].code)) && (
                <p>Its HTML and scripts run in every such visitor’s browser, and can do there whatever the page can.</p>
            )}
            <div className="flex flex-wrap items-end gap-3">
                <div className="w-44">
                    <Choice
                        label="When"
                        value={when}
                        options={[
                            { value: 'now', label: 'Start now' },
                            { value: 'later', label: 'Start at a time' },
                        ]}
                        onChange={setWhen}
                    />
                </div>
                {when === 'later' && (
                    <TextField
                        label={`Start (${zone})`}
                        type="datetime-local"
                        value={start}
                        error={errors.start}
                        onChange={(event) => setStart(event.target.value)}
                    />
                )}
            </div>
            <Ends
                form={ends}
                onChange={setEnds}
                errors={errors}
                zone={zone}
                planned={plan?.outcome.exact?.total ?? plan?.outcome.total ?? null}
            />
            <div data-ready={ready.isRunning ? 'looking' : 'there'}>
                <ReachProgress reach={ready} />
                {!ready.isRunning && blockers.length === 0 && ready.result && (
                    <p>
                        Nothing on its{' '}
                        <Link to={address.experimentView(site, experiment.key, 'ready')} className="text-accent underline" onClick={close}>
                            ready list
                        </Link>{' '}
                        keeps it from starting.
                    </p>
                )}
            </div>
            {blockers.length > 0 && (
                <div className="border-l-3 border-broken pl-3">
                    <p className="font-semibold">This speaks against it:</p>
                    <ul className="list-disc pl-5">
                        {blockers.map((point, i) => (
                            <li key={i}>{point.words}</li>
                        ))}
                    </ul>
                    <p className="mt-1">
                        <Link to={address.experimentView(site, experiment.key, 'ready')} className="text-accent underline" onClick={close}>
                            Mend it on the ready list
                        </Link>
                        , or say why it is to start all the same:
                    </p>
                    <TextArea
                        label="Reason"
                        rows={2}
                        value={reason}
                        error={errors.reason}
                        maxLength={500}
                        onChange={(event) => setReason(event.target.value)}
                    />
                </div>
            )}
        </Question>
    );
}
