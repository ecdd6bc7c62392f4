import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { count, percent } from '../../parts/figures';
import { VariantMark } from '../../parts/VariantMark';
import { nextVariant, number, parts, type DraftVariant } from '../draft';
import { ReachProgress } from '../known/ReachView';
import { Row } from '../links/Row';
import { followed, Traffic } from '../Traffic';
import type { LeafSides } from './Editor';

/** Split: the variants and their weights; beside them, how many visitors a week each would get. */
export function SplitLeaf({ editor: { draft, set, errors }, reach, hasStarted }: LeafSides) {
    const part = parts(draft.variants);
    const weeks = reach.result?.weeks ?? [];
    const mean = reach.result?.weekly ?? null;
    const share = number(draft.share) / 100;
    const put = (at: number, next: DraftVariant): void => set({ variants: followed(draft.variants, at, next) });
    const removable = !hasStarted && draft.variants.length > 2;

    return (
        <>
            <Row
                declared={
                    <div className="py-1">
                        <Traffic draft={draft} set={set} />
                    </div>
                }
                observed={
                    <div className="py-1">
                        <ReachProgress reach={reach} />
                        {mean !== null && (
                            <p>
                                About <strong data-figure="week">{count(mean * share)}</strong> visitors a week would enter: the mean of the
                                last four weeks, of these pages and this audience
                                <span className="text-soft"> ({weeks.map((week) => count(week.eligible)).join(', ')} were eligible)</span>.
                            </p>
                        )}
                        {errors.variants && (
                            <p role="alert" className="text-broken">
                                {errors.variants}
                            </p>
                        )}
                    </div>
                }
            />
            {draft.variants.map((variant, i) => (
                <Row
                    key={variant.key}
                    declared={
                        <div className="grid grid-cols-[auto_1fr_5rem_4rem_auto] items-start gap-2 py-1">
                            <span className="pt-7">
                                <VariantMark index={i} />
                            </span>
                            <TextField
                                label={variant.control ? 'Control: name' : `Variant ${Math.max(1, i)}: name`}
                                value={variant.name}
                                error={errors[`variants.${i}.name`] ?? errors[`variants.${i}.key`]}
                                maxLength={80}
                                placeholder={variant.key}
                                onChange={(event) => put(i, { ...variant, name: event.target.value })}
                            />
                            <TextField
                                label="Weight"
                                inputMode="decimal"
                                value={variant.weight}
                                error={errors[`variants.${i}.weight`]}
                                onChange={(event) => put(i, { ...variant, weight: event.target.value })}
                            />
                            <span className="pt-8 text-right text-sm text-soft">{percent(part?.[i] ?? null)}</span>
                            <span className="pt-6">
                                {removable && !variant.control && (
                                    <Button
                                        aria-label={`Remove ${variant.name || variant.key}`}
                                        onClick={() => set({ variants: draft.variants.filter((_, j) => j !== i) })}
                                    >
                                        Remove
                                    </Button>
                                )}
                            </span>
                        </div>
                    }
                    observed={
                        <p className="py-1" data-week={variant.key}>
                            {hasStarted && number(variant.weight) === 0 && (
                                <span className="mb-1 block">
                                    <Choice
                                        label={`Visitors of ${variant.name || variant.key}`}
                                        value={variant.moves ? 'move' : 'keep'}
                                        options={[
                                            { value: 'keep', label: 'who have it keep it' },
                                            { value: 'move', label: 'who have it are given another' },
                                        ]}
                                        onChange={(what) => put(i, { ...variant, moves: what === 'move' })}
                                    />
                                </span>
                            )}
                            {mean !== null && part && share >= 0 ? `About ${count(mean * share * part[i])} visitors a week` : ''}
                        </p>
                    }
                />
            ))}
            <Row
                last
                declared={
                    hasStarted ? (
                        <p className="py-1 text-sm text-soft">Variants and their order stay. A weight of 0 shows one to nobody new.</p>
                    ) : (
                        <div className="py-1">
                            <Button onClick={() => set({ variants: [...draft.variants, nextVariant(draft.variants)] })}>
                                Add a variant
                            </Button>
                        </div>
                    )
                }
                observed={<p className="py-1 text-sm text-soft">Whoever has got a variant keeps it, whatever the weights become.</p>}
            />
        </>
    );
}
