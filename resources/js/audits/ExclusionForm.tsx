import type { FormEvent } from 'react';
import { useSearchParams } from 'react-router';
import { useMakeExclusion, type ReadAudit } from '../api/audits';
import { useSite } from '../api/queries';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { RuleBuilder, Tick } from '../parts/RuleBuilder';
import { ADDRESS_FACTS, EVENT_FACTS } from '../parts/ruleRows';
import { useDraft } from '../parts/useDraft';
import { draftIn, KINDS, requestOf, WAYS, type ExclusionDraft } from './exclusion';

interface Props {
    site: string;
    audit: ReadAudit;
    zone: string;
    onDone: () => void;
}

/** Leaves something out of the audits to come: what, under which name, and why. */
export function ExclusionForm({ site, audit, zone, onDone }: Props) {
    const [params] = useSearchParams();
    const hosts = useSite(site).data?.hosts ?? [];
    const save = useMakeExclusion(site, audit.audit);
    const form = useDraft<ExclusionDraft>(
        () => draftIn(params, zone),
        save,
        (draft) => requestOf(draft, zone),
    );
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(requestOf(draft, zone), {
            onSuccess: () => {
                form.kept();
                onDone();
            },
        });
    };

    return (
        <form onSubmit={submit} noValidate aria-label="Leave something out" className="space-y-3 border border-ink bg-leaf p-4">
            <div className="grid gap-3 md:grid-cols-[20rem_1fr]">
                <div>
                    <p className="mb-0.5 font-semibold">What is left out</p>
                    <Choice
                        label="What is left out"
                        value={draft.kind}
                        options={KINDS}
                        onChange={(kind) => set({ kind, everywhere: kind === 'bots' || kind === 'internal' })}
                    />
                </div>
                <TextField
                    label="Its name"
                    value={draft.name}
                    error={errors['exclusion.name']}
                    onChange={(event) => set({ name: event.target.value })}
                />
            </div>
            <What draft={draft} errors={errors} hosts={hosts} zone={zone} set={set} />
            <TextField
                label="Why"
                value={draft.reason}
                error={errors.reason}
                note="Whoever reads the audit later reads this"
                onChange={(event) => set({ reason: event.target.value })}
            />
            {audit.experiment && (
                <Tick
                    label="In the audits of every experiment of this site"
                    on={draft.everywhere}
                    onChange={() => set({ everywhere: !draft.everywhere })}
                />
            )}
            {errors.exclusion && (
                <p role="alert" className="text-broken">
                    {errors.exclusion}
                </p>
            )}
            <FormFoot form={form} submit="Leave it out" onCancel={onDone} inFlow onLeaf />
        </form>
    );
}

interface WhatProps {
    draft: ExclusionDraft;
    errors: Record<string, string>;
    hosts: string[];
    zone: string;
    set: (change: Partial<ExclusionDraft>) => void;
}

function What({ draft, errors, hosts, zone, set }: WhatProps) {
    switch (draft.kind) {
        case 'bots':
            return (
                <p className="max-w-3xl text-soft">
                    Visitors whose user agent says that they are programs, and those who are faster than people, with all that they did.
                </p>
            );
        case 'internal':
            return (
                <>
                    <div className="max-w-xs">
                        <p className="mb-0.5 font-semibold">Who they are</p>
                        <Choice label="Who they are" value={draft.by} options={WAYS} onChange={(by) => set({ by })} />
                    </div>
                    {draft.by === 'rule' && (
                        <RuleBuilder
                            label="Visitors one of whose events fits this"
                            rule={draft.rule}
                            facts={['event.props.', 'event.name', ...EVENT_FACTS]}
                            hosts={hosts}
                            errors={errors}
                            path="exclusion.rule"
                            onChange={(rule) => set({ rule })}
                        />
                    )}
                    {draft.by === 'visitors' && (
                        <TextArea
                            label="Their ids, one a line"
                            className="font-mono text-sm"
                            value={draft.visitors}
                            error={Object.entries(errors).find(([field]) => field.startsWith('exclusion.visitors'))?.[1]}
                            onChange={(event) => set({ visitors: event.target.value })}
                        />
                    )}
                </>
            );
        case 'time':
            return (
                <>
                    <div className="flex flex-wrap gap-3">
                        <div className="w-60">
                            <TextField
                                label="From"
                                type="datetime-local"
                                value={draft.from}
                                error={errors['exclusion.from']}
                                onChange={(event) => set({ from: event.target.value })}
                            />
                        </div>
                        <div className="w-60">
                            <TextField
                                label="To"
                                type="datetime-local"
                                value={draft.to}
                                error={errors['exclusion.to']}
                                onChange={(event) => set({ to: event.target.value })}
                            />
                        </div>
                    </div>
                    <p className="max-w-3xl text-sm text-soft">
                        What happened in it, and with all that they did visitors who first met the experiment in it. Times in {zone}.
                    </p>
                </>
            );
        default:
            return (
                <RuleBuilder
                    label="Events on these pages"
                    rule={draft.rule}
                    facts={ADDRESS_FACTS}
                    hosts={hosts}
                    errors={errors}
                    path="exclusion.rule"
                    onChange={(rule) => set({ rule })}
                />
            );
    }
}
