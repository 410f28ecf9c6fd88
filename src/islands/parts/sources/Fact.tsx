/** One thing that is known of a source, below its name. */
export function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt className="small-label">{name}</dt>
      <dd>{children}</dd>
    </div>
  )
}
