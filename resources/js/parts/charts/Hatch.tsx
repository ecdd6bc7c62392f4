/** Stripes that stay apart without colour, for bands and stretches. */
export function Hatch({ id, colour, turned = 45 }: { id: string; colour: string; turned?: number }) {
    return (
        <defs>
            <pattern id={id} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform={`rotate(${turned})`}>
                <line x1={0} x2={0} y1={0} y2={6} stroke={colour} strokeWidth={1.6} />
            </pattern>
        </defs>
    );
}
