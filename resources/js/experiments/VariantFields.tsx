import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { percent } from '../parts/figures';
import { VariantMark } from '../parts/VariantMark';
import { ChangeFields } from './ChangeFields';
import type { Change } from './changeDraft';
import { nextChange, type DraftVariant } from './draft';

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
                    onMove={{
                        up: i > 0 ? () => set(swapped(variant.changes, i - 1)) : undefined,
                        down: i < variant.changes.length - 1 ? () => set(swapped(variant.changes, i)) : undefined,
                    }}
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

/** With what stands at a place and what follows it the other way round. */
function swapped(changes: Change[], at: number): Change[] {
    return changes.map((one, i) => (i === at ? changes[at + 1] : i === at + 1 ? changes[at] : one));
}
