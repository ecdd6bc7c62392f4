import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useKeys } from '../app/keys';
import { sortedRows, turned, type Order, type Sortable } from './order';

export interface Column<Row> {
    key: string;
    /** The heading; an empty one stands for marks that explain themselves. */
    head: ReactNode;
    cell: (row: Row) => ReactNode;
    /** What rows are sorted by; without it the heading is no button. Where the server sorts, `true`. */
    sort?: ((row: Row) => Sortable) | true;
    /** Numbers stand right, and their largest comes first when they are sorted. */
    numeric?: boolean;
    /** Marks stand in the middle, below their heading. */
    centred?: boolean;
    /** Takes the room that is left. */
    wide?: boolean;
    /** Classes of its cells, with their padding. */
    className?: string;
}

interface Props<Row> {
    /** Name of the table for those who hear it. */
    label: string;
    columns: Column<Row>[];
    rows: Row[];
    rowKey: (row: Row) => string;
    /** Attributes of a row's element, such as `data-state`. */
    rowData?: (row: Row) => Record<`data-${string}`, string>;
    /** The row that is open beside the table. */
    chosen?: string;
    /** What Enter does with the row that j and k have marked. */
    onOpen?: (row: Row) => void;
    /** How rows are sorted where the server sorts them. Without `onOrder` the table does it itself. */
    order?: Order | null;
    onOrder?: (order: Order) => void;
    /** Whether j and k open the row at once, instead of marking it; then only rows that can be opened are stopped at. */
    opensOnMove?: boolean;
    canOpen?: (row: Row) => boolean;
}

/** From here on only the rows in sight are drawn. */
const DRAWN_WHOLE = 60;
const ROW_HEIGHT = 34;

/**
 * Rows under a head that stays in sight: sorted by a click on a heading, walked through with j and k, and opened with Enter.
 * Of many rows only those in sight are drawn.
 */
export function Table<Row>({ label, columns, rows, rowKey, rowData, chosen, onOpen, order, onOrder, opensOnMove, canOpen }: Props<Row>) {
    const [own, setOwn] = useState<Order | null>(null);
    const [marked, setMarked] = useState<string | null>(null);
    const frame = useRef<HTMLDivElement>(null);
    const sorting = onOrder ? (order ?? null) : own;
    const by = columns.find((column) => column.key === sorting?.by)?.sort;
    const shown = !onOrder && sorting && typeof by === 'function' ? sortedRows(rows, by, sorting.descending) : rows;
    const isLong = shown.length > DRAWN_WHOLE;
    // eslint-disable-next-line react-hooks/incompatible-library -- nothing here is compiled by the React Compiler
    const virtual = useVirtualizer({
        count: shown.length,
        enabled: isLong,
        getScrollElement: () => frame.current,
        estimateSize: () => ROW_HEIGHT,
        getItemKey: (i) => rowKey(shown[i]),
        overscan: 12,
    });

    const move = (by: number): void => {
        const stops = opensOnMove && canOpen ? shown.filter(canOpen) : shown;
        const at = stops.findIndex((row) => rowKey(row) === (opensOnMove ? chosen : marked));
        const next = stops[Math.max(0, Math.min(stops.length - 1, at + by))];
        if (next === undefined) {
            return;
        }
        if (opensOnMove) {
            onOpen?.(next);
        } else {
            setMarked(rowKey(next));
        }
        if (isLong) {
            virtual.scrollToIndex(shown.indexOf(next));
        }
    };
    const open = (): void => {
        const row = shown.find((one) => rowKey(one) === marked);
        if (row) {
            onOpen?.(row);
        }
    };
    useKeys(onOpen ? { j: () => move(1), k: () => move(-1), ...(opensOnMove ? {} : { Enter: open }) } : {});
    useEffect(() => {
        frame.current?.querySelector('tr[data-marked]')?.scrollIntoView?.({ block: 'nearest' });
    }, [marked]);

    const drawn = isLong ? virtual.getVirtualItems().map((item) => item.index) : shown.map((_, i) => i);
    const items = virtual.getVirtualItems();
    const above = isLong && items.length > 0 ? items[0].start : 0;
    const below = isLong && items.length > 0 ? virtual.getTotalSize() - items[items.length - 1].end : 0;
    const turn = (column: Column<Row>): void => (onOrder ?? setOwn)(turned(sorting, column.key, column.numeric ?? false));

    return (
        <div
            ref={frame}
            className={`border-y border-line bg-leaf ${isLong ? 'max-h-[78vh] overflow-auto' : 'max-xl:overflow-x-auto'}`}
            tabIndex={0}
            role="region"
            aria-label={label}
        >
            <table className="w-full border-separate border-spacing-0" aria-rowcount={shown.length + 1}>
                <thead className="text-left text-sm text-soft">
                    <tr aria-rowindex={1}>
                        {columns.map((column) => (
                            <Heading key={column.key} column={column} order={sorting} onTurn={() => turn(column)} />
                        ))}
                    </tr>
                </thead>
                <tbody>
                    <Gap height={above} columns={columns.length} />
                    {drawn.map((i) => {
                        const row = shown[i];
                        const key = rowKey(row);
                        const isMarked = key === marked;

                        return (
                            <tr
                                key={key}
                                ref={isLong ? virtual.measureElement : undefined}
                                data-index={i}
                                data-marked={isMarked || undefined}
                                aria-rowindex={i + 2}
                                {...rowData?.(row)}
                                className={`align-baseline hover:bg-ground ${key === chosen ? 'bg-ground' : ''} ${isMarked ? 'bg-ground outline-2 -outline-offset-2 outline-accent' : ''}`}
                            >
                                {columns.map((column) => (
                                    <td key={column.key} className={cellClass(column)}>
                                        {column.cell(row)}
                                    </td>
                                ))}
                            </tr>
                        );
                    })}
                    <Gap height={below} columns={columns.length} />
                </tbody>
            </table>
        </div>
    );
}

function cellClass<Row>(column: Column<Row>): string {
    return `border-b border-line in-[tr:last-child]:border-b-0 ${side(column)} ${column.className ?? 'px-3 py-1'}`;
}

function side<Row>({ numeric, centred }: Column<Row>): string {
    return numeric ? 'text-right' : centred ? 'text-center' : '';
}

function Heading<Row>({ column, order, onTurn }: { column: Column<Row>; order: Order | null; onTurn: () => void }) {
    const isBy = order?.by === column.key;
    const mark = isBy ? (order.descending ? '↓' : '↑') : '';

    return (
        <th
            scope="col"
            aria-sort={isBy ? (order.descending ? 'descending' : 'ascending') : undefined}
            className={`sticky top-0 z-10 border-b border-line bg-leaf px-3 py-1 font-normal whitespace-nowrap ${side(column)} ${column.wide ? 'w-full' : ''}`}
        >
            {column.sort ? (
                <button
                    type="button"
                    className="min-h-6 cursor-pointer hover:text-ink hover:underline"
                    title="Sort by this"
                    onClick={onTurn}
                >
                    {!column.numeric && column.head}
                    <span aria-hidden="true" className="inline-block w-4 text-center text-ink">
                        {mark}
                    </span>
                    {column.numeric && column.head}
                </button>
            ) : (
                column.head
            )}
        </th>
    );
}

/** Stands for the rows that are not drawn. */
function Gap({ height, columns }: { height: number; columns: number }) {
    return height > 0 ? (
        <tr aria-hidden="true">
            <td colSpan={columns} style={{ height }} />
        </tr>
    ) : null;
}
