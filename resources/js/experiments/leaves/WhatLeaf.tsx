import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { useChangeNaming, useNaming } from '../../api/experiments';
import { usePeople } from '../../api/queries';
import { address } from '../../app/address';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextArea, TextField } from '../../parts/Field';
import { LINK_LABELS } from '../../parts/vocabulary';
import { asPathRule } from '../../parts/rules';
import { useDebounced } from '../../parts/useDebounced';
import { useState } from 'react';
import { linkOf, type Draft, type HypothesisPart } from '../draft';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { Row } from '../links/Row';
import type { Editor, LeafSides } from './Editor';

const PARTS: { part: HypothesisPart; label: string }[] = [
    { part: 'because', label: 'Because' },
    { part: 'change', label: 'we believe that' },
    { part: 'audience', label: 'for' },
    { part: 'effect', label: 'will' },
    { part: 'measure', label: 'measured by' },
];

/** What the experiment is as a whole: its name, why it is made, who looks after it; beside it, what is still open. */
export function WhatLeaf({ site, experiment, editor, advice }: LeafSides) {
    const { draft, set, errors } = editor;
    const all = advice.result?.advice ?? [];

    return (
        <>
            <Row
                declared={
                    <div className="py-1">
                        <TextField
                            label="Name"
                            value={draft.name}
                            error={errors.name ?? errors.key}
                            maxLength={120}
                            onChange={(event) => set({ name: event.target.value })}
                        />
                    </div>
                }
                observed={<Naming site={site.key} draft={draft} onTake={(name) => set({ name })} />}
            />
            <Row
                declared={<Hypothesis editor={editor} kept={experiment.hypothesis} />}
                observed={
                    <div className="py-1">
                        {draft.parts && <p data-hypothesis>{experiment.hypothesis}</p>}
                        <AdviceList advice={adviceOn(all, 'hypothesis')} />
                    </div>
                }
            />
            <Row
                last
                declared={
                    <div className="grid grid-cols-2 gap-3 py-1">
                        <Owner site={site.key} owner={draft.owner} onChange={(owner) => set({ owner })} />
                        <TextField
                            label="Labels"
                            value={draft.labels}
                            placeholder="apart by commas"
                            error={Object.entries(errors).find(([field]) => field.startsWith('labels'))?.[1]}
                            onChange={(event) => set({ labels: event.target.value })}
                        />
                    </div>
                }
                observed={<Open site={site.key} experiment={experiment.key} errors={errors} advice={all} isLooking={advice.isRunning} />}
            />
        </>
    );
}

function Hypothesis({ editor: { draft, set, errors }, kept }: { editor: Editor; kept: string }) {
    const { parts } = draft;
    if (!parts) {
        return (
            <div className="space-y-2 py-1">
                <TextArea
                    label="Hypothesis"
                    value={draft.hypothesis}
                    error={errors.hypothesis}
                    maxLength={2000}
                    onChange={(event) => set({ hypothesis: event.target.value })}
                />
                <Button onClick={() => set({ parts: {} })}>Write it in parts</Button>
            </div>
        );
    }

    return (
        <fieldset className="space-y-1 py-1">
            <legend className="font-semibold">Hypothesis</legend>
            {PARTS.map(({ part, label }) => (
                <div key={part} className="grid grid-cols-[8rem_1fr] items-start gap-2">
                    <span aria-hidden="true" className="pt-1.5 text-right text-sm text-soft">
                        {label}
                    </span>
                    <TextField
                        label={`Hypothesis: ${label}`}
                        hideLabel
                        value={parts[part] ?? ''}
                        error={errors[`hypothesis_parts.${part}`]}
                        maxLength={380}
                        onChange={(event) => set({ parts: { ...parts, [part]: event.target.value } })}
                    />
                </div>
            ))}
            <Button onClick={() => set({ parts: null, hypothesis: draft.hypothesis || kept })}>Write it as a text</Button>
        </fieldset>
    );
}

function Owner({ site, owner, onChange }: { site: string; owner: string; onChange: (owner: string) => void }) {
    const people = usePeople(site).data ?? [];
    const names = [...new Set([...people.map(({ name }) => name), ...(owner ? [owner] : [])])];

    return (
        <div>
            <span aria-hidden="true" className="mb-0.5 block font-semibold">
                Owner
            </span>
            <Choice
                label="Owner"
                value={owner}
                options={[{ value: '', label: 'nobody yet' }, ...names.map((name) => ({ value: name, label: name }))]}
                onChange={onChange}
            />
        </div>
    );
}

/** How names of the site are made, and what this one would be by that. */
function Naming({ site, draft, onTake }: { site: string; draft: Draft; onTake: (name: string) => void }) {
    const path = asPathRule(draft.pages)?.value ?? '';
    const asked = useDebounced({ name: draft.name, path }, 500);
    const naming = useNaming(site, asked.name, asked.path).data;
    const [pattern, setPattern] = useState<string | null>(null);
    const change = useChangeNaming(site);
    if (pattern !== null) {
        return (
            <div className="space-y-2 py-1">
                <TextField
                    label="Naming pattern of the site"
                    className="font-mono text-sm"
                    value={pattern}
                    placeholder="{year}-{month} {page} {name}"
                    note="{year} {month} {day} {page} {number} and, once, {name}. It suggests and refuses nothing; empty for none."
                    error={change.error?.message}
                    onChange={(event) => setPattern(event.target.value)}
                />
                <div className="flex gap-2">
                    <Button onClick={() => change.mutate(pattern, { onSuccess: () => setPattern(null) })}>Keep the pattern</Button>
                    <Button onClick={() => setPattern(null)}>Cancel</Button>
                </div>
            </div>
        );
    }

    return (
        <div className="py-1 text-sm">
            {naming?.pattern ? (
                <p>
                    Names here: <code className="font-mono">{naming.pattern}</code>
                    {naming.fits && draft.name && ' – this one fits.'}
                </p>
            ) : (
                <p className="text-soft">Names on this site follow no pattern.</p>
            )}
            {naming?.suggestion && (
                <p className="my-1 border-l-3 border-line pl-2">
                    By that: <strong>{naming.suggestion}</strong> <Button onClick={() => onTake(naming.suggestion ?? '')}>Take it</Button>
                </p>
            )}
            <Button onClick={() => setPattern(naming?.pattern ?? '')}>{naming?.pattern ? 'Change the pattern' : 'Set a pattern'}</Button>
        </div>
    );
}

function Open({
    site,
    experiment,
    errors,
    advice,
    isLooking,
}: {
    site: string;
    experiment: string;
    errors: Record<string, string>;
    advice: Schemas['Advice'][];
    isLooking: boolean;
}) {
    const open = [
        ...Object.entries(errors).map(([field, words]) => ({ link: linkOf(field), words, severity: 'missing' as const, key: field })),
        ...advice
            .filter(({ field }) => errors[field] === undefined)
            .map((one) => ({ link: linkOf(one.field) ?? null, words: one.words, severity: one.severity, key: `${one.code} ${one.field}` })),
    ];

    return (
        <div className="py-1">
            <p className="font-semibold">
                {open.length === 0 ? 'Nothing is open.' : 'Still open'}{' '}
                {isLooking && <span className="text-sm font-normal text-soft">looking…</span>}
            </p>
            <ul className="text-sm" aria-label="Still open">
                {open.map(({ link, words, severity, key }) => (
                    <li key={key} className={`my-1 border-l-3 pl-2 ${BORDERS[severity]}`}>
                        {link && (
                            <Link to={address.experiment(site, experiment, link)} className="text-accent underline underline-offset-4">
                                {LINK_LABELS[link]}
                            </Link>
                        )}{' '}
                        {words}
                    </li>
                ))}
            </ul>
        </div>
    );
}

const BORDERS = { missing: 'border-broken', doubt: 'border-doubt', note: 'border-line' };
