import type { Schemas } from '../api/client';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { percent } from '../parts/figures';
import { VariantMark } from '../parts/VariantMark';
import { nextChange, type DraftVariant } from './draft';

type Change = Schemas['Change'];

interface Props {
    index: number;
    variant: DraftVariant;
    part: number | null;
    errors: Record<string, string>;
    onChange: (variant: DraftVariant) => void;
    onRemove?: () => void;
    onControl: () => void;
}

export function VariantFields({ index, variant, part, errors, onChange, onRemove, onControl }: Props) {
    const at = `variants.${index}`;
    const title = variant.control ? 'Control' : `Variant ${Math.max(1, index)}`;
    const set = (changes: Change[]): void => onChange({ ...variant, changes });

    return (
        <section aria-label={title} className="border border-line bg-leaf p-3">
            <div className="grid grid-cols-[1fr_6rem_auto] items-start gap-3">
                <TextField
                    label={`${title}: name`}
                    value={variant.name}
                    error={errors[`${at}.name`] ?? errors[`${at}.key`]}
                    maxLength={80}
                    placeholder={variant.key}
                    onChange={(event) => onChange({ ...variant, name: event.target.value })}
                />
                <TextField
                    label="Weight"
                    inputMode="decimal"
                    value={variant.weight}
                    error={errors[`${at}.weight`]}
                    onChange={(event) => onChange({ ...variant, weight: event.target.value })}
                />
                <p className="flex items-center pt-7 text-sm text-soft">
                    <VariantMark index={index} />
                    {percent(part)}
                </p>
            </div>
            {variant.changes.map((change, i) => (
                <ChangeFields
                    key={i}
                    change={change}
                    name={`${title}, change ${i + 1}`}
                    at={`${at}.changes.${i}`}
                    errors={errors}
                    onChange={(next) => set(variant.changes.map((one, j) => (j === i ? next : one)))}
                    onRemove={() => set(variant.changes.filter((_, j) => j !== i))}
                />
            ))}
            {!variant.control && (
                <div className="mt-3 flex flex-wrap items-center gap-3">
                    <Button onClick={() => set([...variant.changes, nextChange()])}>Add a change</Button>
                    {onRemove && <Button onClick={onRemove}>Remove this variant</Button>}
                    {variant.changes.length === 0 && (
                        <>
                            <span className="text-sm text-soft">Changes nothing: visitors see the page as it is.</span>
                            <Button onClick={onControl}>Make it the control</Button>
                        </>
                    )}
                </div>
            )}
        </section>
    );
}

interface ChangeProps {
    change: Change;
    name: string;
    at: string;
    errors: Record<string, string>;
    onChange: (change: Change) => void;
    onRemove: () => void;
}

function ChangeFields({ change, name, at, errors, onChange, onRemove }: ChangeProps) {
    const isStyle = change.kind === 'style';

    return (
        <div
            role="group"
            aria-label={name}
            className="mt-2 grid items-start gap-2 border-t border-line pt-2 sm:grid-cols-[6.5rem_1fr_1fr_auto]"
        >
            <div className="sm:pt-[1.58rem]">
                <Choice
                    label={`${name}: kind`}
                    value={change.kind}
                    options={[
                        { value: 'text', label: 'Text' },
                        { value: 'style', label: 'Style' },
                    ]}
                    onChange={(kind) => onChange({ ...change, kind })}
                />
            </div>
            <TextField
                label="Elements (CSS selector)"
                className="font-mono text-sm"
                placeholder="h1"
                value={change.selector}
                error={errors[`${at}.selector`]}
                onChange={(event) => onChange({ ...change, selector: event.target.value })}
            />
            <div className={isStyle ? 'grid grid-cols-2 gap-2' : ''}>
                {isStyle && (
                    <TextField
                        label="Property"
                        className="font-mono text-sm"
                        placeholder="background-color"
                        value={change.property ?? ''}
                        error={errors[`${at}.property`]}
                        onChange={(event) => onChange({ ...change, property: event.target.value })}
                    />
                )}
                <TextField
                    label={isStyle ? 'Value' : 'New text'}
                    className={isStyle ? 'font-mono text-sm' : ''}
                    value={change.value}
                    error={errors[`${at}.value`]}
                    onChange={(event) => onChange({ ...change, value: event.target.value })}
                />
            </div>
            <div className="sm:pt-[1.6rem]">
                <Button onClick={onRemove} aria-label={`Remove ${name}`}>
                    Remove
                </Button>
            </div>
        </div>
    );
}
