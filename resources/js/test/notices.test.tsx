import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Delivery } from '../api/notices';
import { Outbox } from '../notices/Outbox';
import { Settings } from '../notices/Settings';
import { Told } from '../notices/Told';
import { Webhooks } from '../notices/Webhooks';
import { asked, Refusal, sentTo, serve } from './server';
import { open, press, SITE, type } from './view';

const owner = { 'GET /api/session': { name: 'Ines', sites: [{ key: SITE.key, name: SITE.name, right: 'own' }] } };
const looker = { 'GET /api/session': { name: 'Ada', sites: [{ key: SITE.key, name: SITE.name, right: 'look' }] } };

const setting = (own: object = {}) => ({
    person: 1,
    name: 'Ines',
    email: 'ines@larkhollow.example',
    wish: 'blockers',
    digest: true,
    quiet_from: null,
    quiet_to: null,
    ...own,
});

const delivery = (own: Partial<Delivery> = {}): Delivery => ({
    delivery: 1,
    kind: 'trouble',
    way: 'mail',
    to: 'Ines',
    webhook: null,
    message: 'Loan steps: Variant short lost 6.1 % of its visitors',
    state: 'sent',
    tries: 1,
    status: null,
    said: null,
    at: '2026-03-02T10:00:00Z',
    tried: '2026-03-02T10:00:01Z',
    next: null,
    ...own,
});

describe('who is told what', () => {
    it('keeps what somebody wants, empty quiet hours as none', async () => {
        serve({
            ...owner,
            'GET /notice-settings': { mine: setting({ quiet_from: '22:00', quiet_to: '07:00' }), people: [], kept_here: true },
            'PUT /notice-settings': { mine: setting(), people: [], kept_here: true },
        });
        open(<Settings />, '/notices/settings');
        await screen.findByDisplayValue('22:00');
        type('Quiet from', '');
        type('Quiet until', '');
        press('Keep');
        await waitFor(() => expect(sentTo('PUT /notice-settings')).toHaveLength(1));
        expect(sentTo('PUT /notice-settings')[0].body).toEqual({ wish: 'blockers', digest: true, quiet_from: null, quiet_to: null });
        await screen.findByText('Kept.');
    });

    it('says at the field what is wrong', async () => {
        serve({
            ...owner,
            'GET /notice-settings': { mine: setting(), people: [], kept_here: true },
            'PUT /notice-settings': new Refusal(422, { message: 'No.', errors: { quiet_to: ['Say until when, too.'] } }),
        });
        open(<Settings />, '/notices/settings');
        await screen.findByLabelText('Quiet from');
        type('Quiet from', '22:00');
        press('Keep');
        await screen.findByText('Say until when, too.');
    });

    it('lets the owner decide for others', async () => {
        serve({
            ...owner,
            'GET /notice-settings': {
                mine: setting(),
                people: [setting(), setting({ person: 2, name: 'Tomé', wish: 'nothing', digest: false })],
                kept_here: false,
            },
            'PUT /notice-settings/2': { mine: setting(), people: [setting()], kept_here: false },
        });
        open(<Settings />, '/notices/settings');
        await screen.findByText('No trouble; no weekly digest');
        press('Change');
        // The form of the other is the second.
        const keeps = screen.getAllByRole('button', { name: 'Keep' });
        keeps[keeps.length - 1].click();
        await waitFor(() => expect(sentTo('PUT /notice-settings/2')).toHaveLength(1));
        expect(sentTo('PUT /notice-settings/2')[0].body).toMatchObject({ wish: 'nothing', digest: false });
    });
});

describe('what was told', () => {
    it.each([
        [delivery(), 'Told 2 Mar', false],
        [delivery({ status: 204, tries: 3 }), '(HTTP 204), at try 3', false],
        [delivery({ state: 'waiting', tries: 0, next: '2026-03-03T07:00:00Z' }), 'Waits until 3 Mar', false],
        [
            delivery({ state: 'waiting', tries: 2, said: 'It answered 503.', next: '2999-03-03T07:00:00Z' }),
            'It answered 503. 2 tries failed; the next is',
            true,
        ],
        [delivery({ state: 'given-up', tries: 7, said: 'There was no answer.' }), 'Given up after 7 tries: There was no answer.', true],
        [delivery({ state: 'dropped', said: 'Nobody wants it.' }), 'Not told. Nobody wants it.', false],
    ])('says of %j what became of it', async (one, words, canBeTriedAgain) => {
        serve({ ...owner, 'GET /deliveries': [one], 'POST /deliveries/1/again': { ...one, state: 'waiting' } });
        open(<Told />, '/notices/told');
        await screen.findByText(/Variant short lost/);
        expect(document.body.textContent).toContain(words);
        expect(screen.queryByRole('button', { name: 'Try again now' }) !== null).toBe(canBeTriedAgain);
        if (canBeTriedAgain) {
            press('Try again now');
            await waitFor(() => expect(sentTo('POST /deliveries/1/again')).toHaveLength(1));
        }
    });
});

describe('webhooks', () => {
    const webhook = {
        webhook: 4,
        name: 'Desk',
        url: 'https://desk.example/told',
        wish: 'everything',
        digest: false,
        active: false,
        author: 'Ines',
        created: '2026-03-02T10:00:00Z',
        secret: null,
    };

    it('shows a secret once, and only where it was made', async () => {
        serve({ ...owner, 'GET /webhooks': [], 'GET /deliveries': [], 'POST /webhooks': { ...webhook, secret: 'only-now' } });
        open(<Webhooks />, '/notices/webhooks');
        await screen.findByText('No address is called yet.');
        press('Make a webhook');
        type('Name', 'Desk');
        type('Address', 'https://desk.example/told');
        press('Make it');
        await screen.findByText('only-now');
        expect(sentTo('POST /webhooks')[0].body).toEqual({
            name: 'Desk',
            url: 'https://desk.example/told',
            wish: 'blockers',
            digest: false,
            active: true,
        });
    });

    it('asks before one is deleted', async () => {
        serve({ ...owner, 'GET /webhooks': [webhook], 'GET /deliveries': [], 'DELETE /webhooks/4': {} });
        open(<Webhooks />, '/notices/webhooks');
        await screen.findByText('(not called)');
        press('Delete');
        await screen.findByText(/what became of its calls is forgotten/);
        expect(sentTo('DELETE /webhooks/4')).toHaveLength(0);
        press('Delete it');
        await waitFor(() => expect(sentTo('DELETE /webhooks/4')).toHaveLength(1));
    });

    it('are the owner’s, and nobody else asks for them', async () => {
        serve({ ...looker, 'GET /deliveries': [] });
        open(<Webhooks />, '/notices/webhooks');
        await screen.findByText(/Its owner makes them/);
        expect(asked.filter(({ path }) => path === '/webhooks')).toEqual([]);
    });
});

it('shows a mail in a frame without any right', async () => {
    const mail = { mail: 3, recipient: 'ines@larkhollow.example', subject: 'A trouble', at: '2026-03-02T10:00:00Z' };
    serve({
        ...owner,
        'GET /mails': [mail],
        'GET /notice-settings': { mine: setting(), people: [], kept_here: true },
        'GET /mails/3': { ...mail, text: 'Plain words', html: '<p>Words</p><script>alert(1)</script>' },
    });
    open(<Outbox />, '/notices/outbox/:mail?', '/notices/outbox/3');
    const frame = await screen.findByTitle('The mail: A trouble');
    expect(frame.getAttribute('sandbox')).toBe('');
    expect(screen.getByLabelText('The mail as text').textContent).toBe('Plain words');
});
