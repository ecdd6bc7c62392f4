import type { FormEvent } from 'react';
import { useKeepWebhook, type Webhook, type WebhookBody } from '../api/notices';
import { useSiteKey } from '../app/address';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Tick } from '../parts/RuleBuilder';
import { useDraft } from '../parts/useDraft';
import { WishChoice } from './WishChoice';

interface Props {
    /** Without one, a new one is made. */
    webhook?: Webhook;
    onKept: (webhook: Webhook) => void;
    onCancel: () => void;
}

const NEW: WebhookBody = { name: '', url: '', wish: 'blockers', digest: false, active: true };

/** What is called, and with what. */
export function WebhookForm({ webhook, onKept, onCancel }: Props) {
    const save = useKeepWebhook(useSiteKey(), webhook?.webhook);
    const form = useDraft<WebhookBody>(() => {
        const { name, url, wish, digest, active } = webhook ?? NEW;

        return { name, url, wish, digest, active };
    }, save);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(draft, {
            onSuccess: (kept) => {
                form.kept();
                onKept(kept);
            },
        });
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3">
            <div className="grid gap-3 lg:grid-cols-[1fr_2fr]">
                <TextField label="Name" value={draft.name} error={errors.name} onChange={(event) => set({ name: event.target.value })} />
                <TextField
                    label="Address"
                    type="url"
                    placeholder="https://"
                    className="font-mono"
                    value={draft.url}
                    error={errors.url}
                    note="On a host of this site, or on one that whoever runs this copy has allowed"
                    onChange={(event) => set({ url: event.target.value })}
                />
            </div>
            <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
                <div className="w-80 max-w-full">
                    <WishChoice label="Is told" value={draft.wish} onChange={(wish) => set({ wish })} />
                </div>
                <Tick label="The week before, on Mondays" on={draft.digest} onChange={() => set({ digest: !draft.digest })} />
                <Tick label="Is called" on={draft.active} onChange={() => set({ active: !draft.active })} />
            </div>
            <FormFoot form={form} submit={webhook ? 'Keep' : 'Make it'} onCancel={onCancel} inFlow onLeaf />
        </form>
    );
}
