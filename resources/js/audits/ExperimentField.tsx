import { useState } from 'react';
import type { ReadAuditLog } from '../api/audits';
import { answer, api, Problem } from '../api/client';
import { useExperiments } from '../api/queries';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { controlFirst, experimentOf } from './mapping';

interface Props {
    site: string;
    read: ReadAuditLog;
    value: Record<string, unknown> | null;
    error?: string;
    onChange: (experiment: Record<string, unknown>) => void;
}

type Variant = { key: string; weight: number };

/** Which experiment the log is about: one that the log itself tells of, one of this site, or an experiment file. */
export function ExperimentField({ site, read, value, error, onChange }: Props) {
    const found = Object.entries(read.head.tried?.experiments ?? {});
    const own = useExperiments(site).data ?? [];
    const [problem, setProblem] = useState<string | null>(null);
    const variants = (Array.isArray(value?.variants) ? value.variants : []) as Variant[];
    const isWritten = (value?.audit as { assignment?: string } | undefined)?.assignment === 'elsewhere';
    const choose = async (chosen: string): Promise<void> => {
        setProblem(null);
        const [kind, key] = [chosen.slice(0, 4), chosen.slice(5)];
        if (kind === 'here') {
            try {
                onChange(
                    (await answer(
                        api.GET('/api/sites/{site}/experiments/{experiment}/file', { params: { path: { site, experiment: key } } }),
                    )) as Record<string, unknown>,
                );
            } catch (error) {
                setProblem(error instanceof Problem ? error.message : 'The experiment could not be read.');
            }
        } else if (kind === 'read') {
            const seen = controlFirst(Object.keys(read.head.tried?.experiments[key] ?? {}));
            onChange(
                experimentOf(
                    key,
                    seen.map((one) => ({ key: one, weight: 1 })),
                ),
            );
        } else if (kind === 'none') {
            onChange(
                experimentOf('experiment', [
                    { key: 'control', weight: 1 },
                    { key: 'variant', weight: 1 },
                ]),
            );
        }
    };
    const options = [
        ...(value === null
            ? [{ value: '', label: 'Choose which experiment…' }]
            : [{ value: '', label: `${String(value.name ?? value.key ?? '')}, as below` }]),
        ...found.map(([key, of]) => ({
            value: `read ${key}`,
            label: `${key}, as the log tells: ${controlFirst(Object.keys(of)).join(', ')}`,
        })),
        ...own.map(({ key, name }) => ({ value: `here ${key}`, label: `${name} (${key}), of this site` })),
        { value: 'none', label: 'Another one, written here' },
    ];

    return (
        <div className="space-y-2">
            <h2 className="text-lg font-semibold">Which experiment it is about</h2>
            <Choice label="Experiment" value="" options={options} onChange={(chosen) => void choose(chosen)} />
            <label className="block text-sm">
                or an experiment file:{' '}
                <input
                    type="file"
                    accept=".json"
                    className="text-sm"
                    onChange={(event) => {
                        const file = event.target.files?.[0];
                        void file?.text().then((text) => {
                            try {
                                onChange(JSON.parse(text) as Record<string, unknown>);
                                setProblem(null);
                            } catch {
                                setProblem(`${file.name} is no JSON file.`);
                            }
                        });
                    }}
                />
            </label>
            {(problem ?? error) && (
                <p role="alert" className="text-sm text-broken">
                    {problem ?? error}
                </p>
            )}
            {value !== null && (
                <div className="border-y border-line bg-leaf px-3 py-2">
                    {isWritten ? (
                        <div className="space-y-2">
                            <TextField
                                label="Its key, as the log names it"
                                className="font-mono text-sm"
                                value={String(value.key ?? '')}
                                onChange={(event) => onChange(experimentOf(event.target.value, variants))}
                            />
                            <p className="font-semibold">Its variants, the control first, and how they were to split</p>
                            {variants.map((one, i) => (
                                <div key={i} className="grid grid-cols-[1fr_6rem_auto] items-end gap-2">
                                    <TextField
                                        label={`Variant ${i + 1}`}
                                        hideLabel
                                        className="font-mono text-sm"
                                        value={one.key}
                                        onChange={(event) =>
                                            onChange(
                                                experimentOf(
                                                    String(value.key),
                                                    variants.map((v, at) => (at === i ? { ...v, key: event.target.value } : v)),
                                                ),
                                            )
                                        }
                                    />
                                    <TextField
                                        label={`Weight of ${one.key}`}
                                        hideLabel
                                        type="number"
                                        min="0"
                                        value={String(one.weight)}
                                        onChange={(event) =>
                                            onChange(
                                                experimentOf(
                                                    String(value.key),
                                                    variants.map((v, at) => (at === i ? { ...v, weight: Number(event.target.value) } : v)),
                                                ),
                                            )
                                        }
                                    />
                                    <Button
                                        disabled={variants.length <= 2}
                                        aria-label={`Remove ${one.key}`}
                                        onClick={() =>
                                            onChange(
                                                experimentOf(
                                                    String(value.key),
                                                    variants.filter((_, at) => at !== i),
                                                ),
                                            )
                                        }
                                    >
                                        Remove
                                    </Button>
                                </div>
                            ))}
                            <Button
                                onClick={() =>
                                    onChange(
                                        experimentOf(String(value.key), [...variants, { key: `variant-${variants.length}`, weight: 1 }]),
                                    )
                                }
                            >
                                Add a variant
                            </Button>
                        </div>
                    ) : (
                        <p className="text-sm">
                            <span className="font-mono">{String(value.key ?? '')}</span>:{' '}
                            {variants.map((one) => `${one.key} ${one.weight}`).join(', ')}
                        </p>
                    )}
                </div>
            )}
        </div>
    );
}
