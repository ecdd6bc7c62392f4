import { useRef, useState, type DragEvent } from 'react';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { VariantMark } from '../../parts/VariantMark';
import { ChangeFields } from '../ChangeFields';
import { nextChange, type Change } from '../changeDraft';
import { readChanges, writeChanges } from '../changeFile';
import { nextVariant, type DraftVariant } from '../draft';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { InspectNow } from '../known/InspectNow';
import { SelectorsFound } from '../known/SelectorsFound';
import { Row } from '../links/Row';
import { ChangeOnPage } from '../preview/ChangeOnPage';
import type { LeafSides } from './Editor';

/** Exposure: what each variant changes, or where it leads; beside each change, what it finds on the page and what is doubtful. */
export function ExposureLeaf(sides: LeafSides) {
    const { variants } = sides.editor.draft;

    return variants.map((variant, i) => (
        <Variant key={variant.key} sides={sides} variant={variant} index={i} last={i === variants.length - 1} />
    ));
}

interface VariantProps {
    sides: LeafSides;
    variant: DraftVariant;
    index: number;
    last: boolean;
}

function Variant({ sides, variant, index, last }: VariantProps) {
    const { editor, advice, hasStarted } = sides;
    const { draft, set, errors } = editor;
    const at = `variants.${index}`;
    const title = variant.control ? 'Control' : `Variant ${Math.max(1, index)}`;
    const all = advice.result?.advice ?? [];
    const put = (next: DraftVariant): void => set({ variants: draft.variants.map((one, i) => (i === index ? next : one)) });
    const setChanges = (changes: Change[]): void => put({ ...variant, changes });
    const dragged = useRef<number | null>(null);
    const isRedirect = draft.kind === 'redirect' && !variant.control;
    const changes = isRedirect || variant.control ? [] : variant.changes;

    return (
        <>
            <Row
                last={last && variant.control}
                declared={
                    <div className="py-1">
                        <h4 className="flex items-center font-semibold">
                            <VariantMark index={index} />
                            {variant.name || title}
                            <span className="ml-2 font-mono text-xs font-normal text-soft">{variant.key}</span>
                        </h4>
                        {variant.control && <p className="text-sm text-soft">The page as it is.</p>}
                        {isRedirect && (
                            <TextField
                                label={`${title}: leads to`}
                                className="font-mono text-sm"
                                placeholder="/loan-new"
                                value={variant.target}
                                error={errors[`${at}.target`]}
                                note="A path of the page’s own host, or a whole address of the site. Query and fragment of the visitor are kept; the target’s own win."
                                onChange={(event) => put({ ...variant, target: event.target.value })}
                            />
                        )}
                        {!variant.control && errors[`${at}.changes`] && <p className="text-sm text-broken">{errors[`${at}.changes`]}</p>}
                    </div>
                }
                observed={
                    <div className="py-1">
                        <AdviceList advice={all.filter(({ field }) => field === `${at}.changes` || field === `${at}.target`)} />
                        {all.some(({ code, field }) => field === `${at}.target` && INSPECTABLE.includes(code)) && (
                            <InspectNow address={absolute(variant.target.trim(), sides.reach.result?.matching[0])} />
                        )}
                        {isRedirect && <p className="text-sm text-soft">Whoever opens that address directly is not in the experiment.</p>}
                    </div>
                }
            />
            {changes.map((change, j) => {
                const field = `${at}.changes.${j}`;
                const drop = (event: DragEvent): void => {
                    event.preventDefault();
                    if (dragged.current !== null && dragged.current !== j) {
                        setChanges(moved(changes, dragged.current, j));
                    }
                    dragged.current = null;
                };

                return (
                    <Row
                        key={j}
                        declared={
                            <div
                                onDragOver={(event) => dragged.current !== null && event.preventDefault()}
                                onDrop={drop}
                                className="flex gap-1"
                            >
                                <span
                                    draggable
                                    title="Drag to another place in the order"
                                    aria-hidden="true"
                                    className="cursor-grab pt-3 text-soft select-none"
                                    onDragStart={(event) => {
                                        dragged.current = j;
                                        event.dataTransfer.setData('text/plain', String(j));
                                        event.dataTransfer.effectAllowed = 'move';
                                    }}
                                    onDragEnd={() => (dragged.current = null)}
                                >
                                    ≡
                                </span>
                                <div className="min-w-0 flex-1">
                                    <ChangeFields
                                        change={change}
                                        name={`${title}, change ${j + 1}`}
                                        at={field}
                                        errors={errors}
                                        onChange={(next) => setChanges(changes.map((one, k) => (k === j ? next : one)))}
                                        onRemove={() => setChanges(changes.filter((_, k) => k !== j))}
                                        onMove={{
                                            up: j > 0 ? () => setChanges(moved(changes, j, j - 1)) : undefined,
                                            down: j < changes.length - 1 ? () => setChanges(moved(changes, j, j + 1)) : undefined,
                                        }}
                                        copyTo={draft.variants
                                            .filter((one) => !one.control)
                                            .map((one) => ({
                                                key: one.key,
                                                name: one.key === variant.key ? 'here, once more' : one.name || one.key,
                                            }))}
                                        onCopy={(key) =>
                                            set({
                                                variants: draft.variants.map((one) =>
                                                    one.key === key ? { ...one, changes: [...one.changes, { ...change }] } : one,
                                                ),
                                            })
                                        }
                                    />
                                </div>
                            </div>
                        }
                        observed={<Known sides={sides} field={field} change={change} />}
                    />
                );
            })}
            {!variant.control && (
                <Row
                    last={last}
                    declared={
                        <div className="flex flex-wrap items-center gap-2 py-1">
                            {!isRedirect && (
                                <>
                                    <Button
                                        aria-label={`Add a change to ${variant.name || title}`}
                                        onClick={() => setChanges([...changes, nextChange()])}
                                    >
                                        Add a change
                                    </Button>
                                    {!hasStarted && (
                                        <ChangeOnPage
                                            site={sides.site}
                                            experiment={sides.experiment.key}
                                            draft={draft}
                                            variant={variant}
                                            inspected={sides.reach.result?.matching[0]}
                                        />
                                    )}
                                    <Files variant={variant} onRead={(read) => setChanges([...changes, ...read])} />
                                </>
                            )}
                            {!hasStarted && (
                                <Button
                                    onClick={() =>
                                        set({
                                            variants: [
                                                ...draft.variants,
                                                {
                                                    ...nextVariant(draft.variants),
                                                    name: `${variant.name || variant.key} (copy)`.slice(0, 80),
                                                    changes: variant.changes.map((change) => ({ ...change })),
                                                    target: variant.target,
                                                    weight: variant.weight,
                                                },
                                            ],
                                        })
                                    }
                                >
                                    Copy this variant
                                </Button>
                            )}
                            {!isRedirect && changes.length === 0 && !hasStarted && (
                                <Button
                                    onClick={() => set({ variants: draft.variants.map((one, i) => ({ ...one, control: i === index })) })}
                                >
                                    Make it the control
                                </Button>
                            )}
                        </div>
                    }
                    observed={
                        <p className="py-1 text-sm text-soft">
                            {isRedirect
                                ? ''
                                : changes.length === 0
                                  ? 'It changes nothing: visitors see the page as it is.'
                                  : 'Changes are made from the first to the last, also to elements that appear later.'}
                        </p>
                    }
                />
            )}
        </>
    );
}

/** What another look at the page may settle. */
const INSPECTABLE: string[] = ['target.not-inspected', 'target.unreachable', 'target.no-snippet', 'target.canonical'];

/** A target that is a path is on the host of the pages that visitors come from. */
function absolute(target: string, page: string | undefined): string {
    return target.startsWith('/') && page ? new URL(target, page).href : target;
}

function Known({ sides, field, change }: { sides: LeafSides; field: string; change: Change }) {
    const { advice } = sides;
    const found = (advice.result?.selectors ?? []).filter((one) => one.field.startsWith(`${field}.`));
    // What was found is said of the selector that was asked for, not of what is being typed.
    const current = found.filter(({ field: of, selector }) => (of.endsWith('.to') ? change.to : change.selector)?.trim() === selector);

    return (
        <div className={`py-1 ${advice.isRunning ? 'text-soft' : ''}`}>
            {change.off && <p className="text-sm text-soft">Switched off: it is kept and not made.</p>}
            {current.map((one) => (
                <SelectorsFound key={one.field} found={one} />
            ))}
            {current.some(({ pages }) => pages.length === 0) && sides.reach.result?.matching[0] && (
                <InspectNow address={sides.reach.result.matching[0]} />
            )}
            <AdviceList
                advice={adviceOn(advice.result?.advice ?? [], field).filter(({ code }) => !['selector.matches-many'].includes(code))}
            />
        </div>
    );
}

/** The changes of a variant as a file, and back. */
function Files({ variant, onRead }: { variant: DraftVariant; onRead: (changes: Change[]) => void }) {
    const input = useRef<HTMLInputElement>(null);
    const [wrong, setWrong] = useState('');
    const save = (): void => {
        const link = document.createElement('a');
        link.href = URL.createObjectURL(new Blob([writeChanges(variant.changes)], { type: 'application/json' }));
        link.download = `${variant.key}.changes.json`;
        link.click();
        URL.revokeObjectURL(link.href);
    };
    const read = async (file: File | undefined): Promise<void> => {
        try {
            setWrong('');
            onRead(readChanges(file ? await file.text() : ''));
        } catch (error) {
            setWrong((error as Error).message);
        }
    };

    return (
        <>
            <div className="w-44">
                <Choice
                    label={`Files of ${variant.name || variant.key}`}
                    value=""
                    options={[
                        { value: '', label: 'Changes as a file…' },
                        ...(variant.changes.length > 0 ? [{ value: 'save', label: 'Save them to a file' }] : []),
                        { value: 'read', label: 'Add those of a file' },
                    ]}
                    onChange={(what) => (what === 'save' ? save() : what === 'read' && input.current?.click())}
                />
            </div>
            <input
                ref={input}
                type="file"
                accept="application/json,.json"
                aria-label={`Changes of ${variant.name || variant.key} from a file`}
                className="sr-only"
                tabIndex={-1}
                onChange={(event) => {
                    void read(event.target.files?.[0]);
                    event.target.value = '';
                }}
            />
            {wrong && (
                <span role="alert" className="text-sm text-broken">
                    {wrong}
                </span>
            )}
        </>
    );
}

/** With one of them taken out and put in at another place. */
function moved(changes: Change[], from: number, to: number): Change[] {
    const rest = changes.filter((_, i) => i !== from);

    return [...rest.slice(0, to), changes[from], ...rest.slice(to)];
}
