import { describe, expect, it, vi } from 'vitest';
import { load, names, sent, type Sent } from './visit';

describe('what a visitor does', () => {
    it('counts a page view for each address of an application on a single page, and stops changes of the page before', async () => {
        await load();
        history.pushState({}, '', '/other?x=1');
        history.pushState({}, '', '/other?x=1#part');
        history.replaceState({}, '', '/other?x=1#/view');
        document.body.innerHTML = '<h1>Another</h1>';
        await Promise.resolve();
        await vi.advanceTimersByTimeAsync(300);
        const views = (sent as (Sent & { referrer: string })[]).filter((event) => event.name === 'page_view');
        expect(views.map((event) => event.url.replace(/^https?:\/\/[^/]+/, ''))).toEqual(['/join', '/other?x=1', '/other?x=1#/view']);
        expect(views[1].referrer).toMatch(/\/join$/);
        expect(document.querySelector('h1')?.textContent).toBe('Another');
        expect(names().filter((name) => name === 'change_missed')).toHaveLength(1);
    });

    it('sends clicks, forms without their fields, and pushes of the data layer', async () => {
        document.body.innerHTML =
            '<main class="wide a.b"><a id="x" href="/next?mail=me@x.example"><b>go</b></a><form id="f" action="/done"><input name="secret" value="s3cret"></form></main>';
        document.querySelector('a')?.addEventListener('click', (event) => event.preventDefault());
        document.querySelector('form')?.addEventListener('submit', (event) => event.preventDefault());
        (window as unknown as Record<string, unknown>).shelf = [{ event: 'early' }];
        await load({
            dataLayer: 'shelf',
            dataEvents: [{ push: 'booked', name: 'bench_booked', props: { deposit: 'booking.deposit', none: 'a.b' } }],
        });
        document.querySelector('b')?.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }));
        document.querySelector('form')?.dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }));
        ((window as unknown as Record<string, unknown>).shelf as unknown[]).push({ event: 'booked', booking: { deposit: 15 } });
        vi.advanceTimersByTime(300);
        const of = (name: string) => sent.find((event) => event.name === name)?.props;
        expect(of('click')).toEqual({
            path: 'html>body>main.wide.a_b>a#x>b',
            href: 'http://localhost:3000/next?mail=[email]',
            masked: true,
        });
        expect(of('form_submit')).toEqual({ path: 'html>body>main.wide.a_b>form#f', action: '/done', method: 'get' });
        expect(of('bench_booked')).toEqual({ deposit: 15 });
        expect(JSON.stringify(sent)).not.toContain('s3cret');
    });

    it('tells engaged seconds and how far the page was scrolled', async () => {
        await load();
        await vi.advanceTimersByTimeAsync(12_000);
        dispatchEvent(new Event('scroll'));
        dispatchEvent(new Event('pagehide'));
        expect(sent.filter((event) => event.name === 'engaged').map((event) => event.props.seconds)).toEqual([10, 12]);
        expect(sent.filter((event) => event.name === 'scroll').map((event) => event.props.percent)).toEqual([100]);
        expect(sent.filter((event) => event.name === 'engaged')[0].props.view).toBe(sent[0].id);
    });

    it("gives the visitor id away, takes a user id and an order, and carries the mark of a person's own visits", async () => {
        history.replaceState({}, '', '/join?plx_me=abc123');
        await load();
        let id = '';
        window.pellix?.('visitor', (given: string) => (id = given));
        window.pellix?.('user', 42);
        window.pellix?.('order', { order_id: 'G-1', value: 24.5, currency: 'EUR' });
        vi.advanceTimersByTime(300);
        const order = sent.find((event) => event.name === 'order') as Sent & { user: string };
        expect(id).toBe(sent[0].visitor);
        expect(order.user).toBe('42');
        expect(order.props).toEqual({ me: 'abc123', order_id: 'G-1', value: 24.5, currency: 'EUR' });
    });
});
