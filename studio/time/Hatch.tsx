/** Brick hatch for what is beyond a limit. @param id by which it is used as a fill */
export function Hatch({ id }: { id: string }) {
  return (
    <defs>
      <pattern id={id} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width={6} height={6} fill="#F5E2DB" />
        <rect width={3} height={6} fill="#9A3420" />
      </pattern>
    </defs>
  );
}
