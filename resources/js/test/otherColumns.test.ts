import { describe, expect, it } from 'vitest';
import { decimalOf, formatOf, guessed, headOf, kindOf, mappingOf, samples, type Mapped } from '../audits/otherColumns';

const mapped = (change: Partial<Mapped>): Mapped => ({
    kind: 'days',
    columns: {},
    format: '',
    decimal: '.',
    encoding: '',
    variants: '',
    ...change,
});

describe('a file of another source', () => {
    it('is parted where its header row is, and quotation marks are those of RFC 4180', () => {
        expect(headOf('\uFEFF"Order, no.";Total;"a ""b"""\r\n1;2;3\n')).toEqual({
            columns: ['Order, no.', 'Total', 'a "b"'],
            separator: ';',
            rows: [['1', '2', '3']],
        });
        expect(headOf('day\tvisitors')?.columns).toEqual(['day', 'visitors']);
        expect(headOf('\n\n')).toBeNull();
    });

    it('has our columns by their names, also in other words, and each of its columns once', () => {
        expect(guessed(['Date', 'Group', 'Users'])).toEqual({ day: 'Date', variant: 'Group', visitors: 'Users' });
        expect(guessed(['Order ID', 'Created at', 'Total', 'Currency', 'Date'])).toEqual({
            order_id: 'Order ID',
            time: 'Created at',
            value: 'Total',
            currency: 'Currency',
            day: 'Date',
        });
        expect(guessed(['x', 'y'])).toEqual({});
        expect(kindOf(['Date', 'Users'])).toBe('days');
        expect(kindOf(['Date', 'Order', 'Total'])).toBe('orders');
        expect(kindOf(['day', 'visitors', 'order_id'])).toBe('orders');
    });

    it.each([
        [['2026-03-02'], ''],
        [['02.03.2026', '15.03.2026'], 'd.m.Y'],
        [['2/3/2026', '2/15/2026'], 'm/d/Y'],
        [['02/03/2026', '04/03/2026'], 'd/m/Y'],
        [['02.03.2026 14:05'], 'd.m.Y H:i'],
        [['02/03/2026 14:05:09'], 'd/m/Y H:i:s'],
        [['02.03.2026', '2026-03-03'], ''],
        [[], ''],
    ])('writes times like %j as %s', (texts, format) => expect(formatOf(texts)).toBe(format));

    it('writes decimals with a comma where some have one, and nothing that parts thousands', () => {
        expect(decimalOf(['12,50', '3'])).toBe(',');
        expect(decimalOf(['12.50', '1,234'])).toBe('.');
        expect(decimalOf([])).toBe('.');
    });

    it('needs no mapping where it is as ours, and else one that says what is other', () => {
        expect(mappingOf(mapped({ columns: { day: 'Day', visitors: 'visitors' } }), 'UTC')).toBeNull();
        expect(
            mappingOf(
                mapped({
                    columns: { day: 'Date', visitors: 'Users', variant: 'Group', order_id: 'x' },
                    format: 'd.m.Y',
                    variants: 'A = control\n\nB=short\nC =',
                }),
                'Europe/Lisbon',
            ),
        ).toEqual({
            pellix: 1,
            columns: { day: 'Date', visitors: 'Users', variant: 'Group' },
            time: { format: 'd.m.Y', zone: 'Europe/Lisbon' },
            variants: { A: 'control', B: 'short' },
        });
        expect(mappingOf(mapped({ kind: 'orders', columns: { order_id: 'order_id' }, decimal: ',' }), 'UTC')).toEqual({
            pellix: 1,
            columns: { order_id: 'order_id' },
            decimal: ',',
        });
    });

    it('shows what stands in a column', () => {
        const head = headOf('a,b\n1,2\n3,\n')!;
        expect(samples(head, 'b')).toEqual(['2']);
        expect(samples(head, undefined)).toEqual([]);
    });
});
