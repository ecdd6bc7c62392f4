import { useState } from 'react';
import {
    useDeleteWebhook,
    useDeliveries,
    useTestWebhook,
    useWebhooks,
    useWebhookSecret,
    type Delivery,
    type Webhook,
} from '../api/notices';
import { useRight } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Waiting } from '../parts/Waiting';
import { Copyable } from '../wiring/Copyable';
import { Frame } from './Frame';
import { DeliveryTable } from './Told';
import { WebhookForm } from './WebhookForm';
import { wishWords } from './WishChoice';

/** Addresses that are called when there is something to tell: made, changed, tried, and what became of their calls. */
export function Webhooks() {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    const webhooks = useWebhooks(site, isOwner);
    const deliveries = useDeliveries(site);
    const [isMaking, setMaking] = useState(false);
    const [fresh, setFresh] = useState<Webhook | null>(null);

    if (!isOwner) {
        return (
            <Frame title="Webhooks">
                <p>Webhooks tell others what happens on this site. Its owner makes them.</p>
            </Frame>
        );
    }

    return (
        <Frame title="Webhooks">
            <div className="mb-3 flex flex-wrap items-start gap-4">
                <p className="flex-1 basis-80 text-soft">
                    Each call is a POST with JSON, signed with a secret that only you and the receiver know (HTTP Message Signatures, RFC
                    9421, hmac-sha256). What is not answered with 2xx is tried again six times within a day.
                </p>
                {!isMaking && (
                    <Button look="main" onClick={() => setMaking(true)}>
                        Make a webhook
                    </Button>
                )}
            </div>
            {fresh?.secret && (
                <section role="status" className="mb-4 border border-ink bg-leaf p-3">
                    <p className="font-semibold">The secret of “{fresh.name}”. It is shown this once: copy it to the receiver now.</p>
                    <Copyable text={fresh.secret} name="secret" />
                </section>
            )}
            {isMaking && (
                <div className="mb-4 border border-line bg-leaf p-3">
                    <WebhookForm
                        onKept={(webhook) => {
                            setFresh(webhook);
                            setMaking(false);
                        }}
                        onCancel={() => setMaking(false)}
                    />
                </div>
            )}
            <Waiting query={webhooks}>
                {(all) =>
                    all.length === 0 ? (
                        !isMaking && <p>No address is called yet.</p>
                    ) : (
                        <ul className="space-y-4">
                            {all.map((one) => (
                                <li key={one.webhook}>
                                    <One
                                        webhook={one}
                                        deliveries={(deliveries.data ?? []).filter(({ webhook }) => webhook === one.webhook)}
                                        onSecret={setFresh}
                                    />
                                </li>
                            ))}
                        </ul>
                    )
                }
            </Waiting>
        </Frame>
    );
}

function One({ webhook, deliveries, onSecret }: { webhook: Webhook; deliveries: Delivery[]; onSecret: (webhook: Webhook) => void }) {
    const site = useSiteKey();
    const [isOpen, setOpen] = useState(false);
    const [asks, setAsks] = useState<'delete' | 'secret' | null>(null);
    const test = useTestWebhook(site);
    const remove = useDeleteWebhook(site);
    const secret = useWebhookSecret(site);
    const error = test.error;

    return (
        <section aria-label={webhook.name} className="border border-line bg-leaf">
            <div className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line px-3 py-2">
                <div className="min-w-0 flex-1 basis-80">
                    <h2 className="font-semibold">
                        {webhook.name} {!webhook.active && <span className="font-normal text-soft">(not called)</span>}
                    </h2>
                    <p className="font-mono text-sm break-all">{webhook.url}</p>
                    <p className="text-sm text-soft">
                        {wishWords(webhook.wish)}
                        {webhook.digest && '; the week on Mondays'}; by {webhook.author}, <Moment at={webhook.created} />
                    </p>
                </div>
                <Button disabled={test.isPending} onClick={() => test.mutate(webhook.webhook)}>
                    Test
                </Button>
                <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
                    {isOpen ? 'Close' : 'Change'}
                </Button>
                <Button onClick={() => setAsks('secret')}>New secret</Button>
                <Button look="danger" onClick={() => setAsks('delete')}>
                    Delete
                </Button>
            </div>
            {error && (
                <p role="alert" className="px-3 py-2 text-broken">
                    {error.message}
                </p>
            )}
            {isOpen && (
                <div className="border-b border-line p-3">
                    <WebhookForm webhook={webhook} onKept={() => setOpen(false)} onCancel={() => setOpen(false)} />
                </div>
            )}
            <div className="p-3">
                {deliveries.length === 0 ? (
                    <p className="text-soft">It has not been called yet.</p>
                ) : (
                    <DeliveryTable deliveries={deliveries} isOfOne />
                )}
            </div>
            <Question
                open={asks === 'delete'}
                title={`Delete “${webhook.name}”?`}
                yes="Delete it"
                danger
                busy={remove.isPending}
                error={remove.error?.message}
                onYes={() => remove.mutate(webhook.webhook, { onSuccess: () => setAsks(null) })}
                onNo={() => setAsks(null)}
            >
                <p>It is not called any more, and what became of its calls is forgotten.</p>
            </Question>
            <Question
                open={asks === 'secret'}
                title={`Another secret for “${webhook.name}”?`}
                yes="Make another secret"
                busy={secret.isPending}
                error={secret.error?.message}
                onYes={() =>
                    secret.mutate(webhook.webhook, {
                        onSuccess: (one) => {
                            onSecret(one);
                            setAsks(null);
                        },
                    })
                }
                onNo={() => setAsks(null)}
            >
                <p>
                    From now on calls are signed with it. A receiver that still has the old one refuses them until it is given the new one.
                </p>
            </Question>
        </section>
    );
}
