import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useSaveTags } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { useDraft } from '../parts/useDraft';
import { CONSENTS, KINDS, newTrigger, ONCE, type Tag } from './tagWords';
import { TriggerFields } from './TriggerFields';

const CODE_LABELS: Record<Tag['kind'], string> = { script: 'JavaScript', html: 'HTML', image: 'Address of the image' };

/** Makes or changes one tag; nothing reaches a page before it is published. */
export function TagForm({ wiring, tag: key }: { wiring: Schemas['Wiring']; tag: string }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const save = useSaveTags(site);
    const hosts = useSite(site).data?.hosts ?? [];
    const at = wiring.tags.findIndex((tag) => tag.key === key);
    const place = at < 0 ? wiring.tags.length : at;
    const form = useDraft<Tag>(
        () =>
            wiring.tags[at] ?? {
                key: '',
                name: '',
                kind: 'script',
                code: '',
                consent: 'statistics',
                triggers: [newTrigger('page')],
                once: 'page',
            },
        save,
        (tag) => ({ tags: { [place]: tag } }),
    );
    const { draft: tag, set } = form;
    const [revision] = useState(wiring.revision);
    const errors = Object.fromEntries(Object.entries(form.errors).map(([field, words]) => [field.replace(`tags.${place}.`, ''), words]));
    const back = (): void => void navigate(address.tags(site));
    const keep = (tags: Tag[]): void => {
        save.mutate(
            { revision, tags },
            {
                onSuccess: () => {
                    form.kept();
                    back();
                },
            },
        );
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        const full = { ...tag, key: tag.key || slug(tag.name), name: tag.name.trim() || tag.key };
        keep(at < 0 ? [...wiring.tags, full] : wiring.tags.map((one, i) => (i === at ? full : one)));
    };
    if (at < 0 && key !== 'new') {
        return <p>There is no tag “{key}” among those being worked on.</p>;
    }

    return (
        <form onSubmit={submit} noValidate className="max-w-4xl space-y-4">
            <h1 className="text-xl font-semibold">{at < 0 ? 'Make a tag' : `Change ${tag.name}`}</h1>
            <div className="grid gap-4 sm:grid-cols-2">
                <TextField label="Tag name" value={tag.name} error={errors.name} onChange={(e) => set({ name: e.target.value })} />
                <TextField
                    label="Key"
                    className="font-mono text-sm"
                    note={at < 0 ? 'Made from the name where it is left out.' : 'It cannot be changed any more.'}
                    disabled={at >= 0}
                    value={tag.key}
                    placeholder={slug(tag.name)}
                    error={errors.key}
                    onChange={(e) => set({ key: e.target.value })}
                />
            </div>
            <div className="grid gap-4 sm:grid-cols-4">
                <Choice label="Kind" value={tag.kind} options={choices(KINDS)} onChange={(kind) => set({ kind })} />
                <Choice label="How often" value={tag.once} options={choices(ONCE)} onChange={(once) => set({ once })} />
                <Choice label="Consent" value={tag.consent} options={choices(CONSENTS)} onChange={(consent) => set({ consent })} />
                <Choice
                    label="Order"
                    value={tag.after ?? ''}
                    options={[
                        { value: '', label: 'waits for no tag' },
                        ...wiring.tags.filter((one) => one.key !== tag.key).map((one) => ({ value: one.key, label: `after ${one.key}` })),
                    ]}
                    onChange={(after) => set({ after: after || undefined })}
                />
            </div>
            {errors.after && <p className="text-broken">{errors.after}</p>}
            <TextArea
                label={CODE_LABELS[tag.kind]}
                rows={tag.kind === 'image' ? 2 : 8}
                className="font-mono text-sm"
                spellCheck={false}
                value={tag.code}
                error={errors.code}
                onChange={(e) => set({ code: e.target.value })}
            />
            {tag.triggers.map((trigger, i) => (
                <fieldset key={i} className="border-t border-line pt-3">
                    <legend className="sr-only">Trigger {i + 1}</legend>
                    <div className="mb-1 flex items-baseline justify-between">
                        <h2 className="font-semibold">{i === 0 ? 'Fires when' : 'Or when'}</h2>
                        {tag.triggers.length > 1 && (
                            <Button onClick={() => set({ triggers: tag.triggers.filter((_, j) => j !== i) })}>
                                Remove trigger {i + 1}
                            </Button>
                        )}
                    </div>
                    <TriggerFields
                        trigger={trigger}
                        number={i + 1}
                        hosts={hosts}
                        errors={errors}
                        path={`triggers.${i}`}
                        onChange={(next) => set({ triggers: tag.triggers.map((one, j) => (j === i ? next : one)) })}
                    />
                </fieldset>
            ))}
            <Button onClick={() => set({ triggers: [...tag.triggers, newTrigger('event')] })}>Add a trigger</Button>
            <FormFoot form={form} submit="Keep the tag" onCancel={back}>
                {at >= 0 && (
                    <Button look="danger" onClick={() => keep(wiring.tags.filter((_, i) => i !== at))}>
                        Take it out
                    </Button>
                )}
            </FormFoot>
        </form>
    );
}

function choices<T extends string>(words: Record<T, string>): { value: T; label: string }[] {
    return (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));
}

/** The key for a name; “new” is taken by the address of this form. */
function slug(name: string): string {
    const key = name
        .toLowerCase()
        .normalize('NFKD')
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 60);

    return key === 'new' ? 'new-tag' : key;
}
