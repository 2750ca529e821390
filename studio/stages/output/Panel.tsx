/** What to hand over, one recipe each. */
export function Head() {
  return (
    <div className="ct-stage-head">
      <h1>Output</h1>
      <p>Rendered at full size by a render worker. The picture stays workable meanwhile.</p>
    </div>
  );
}
