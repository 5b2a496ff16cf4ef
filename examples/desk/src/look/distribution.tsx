/** How often values occur, in equal steps from the smallest to the largest: bars, the tallest as high as there is room. */
export function Distribution({
  steps,
  width,
  height,
  label,
}: {
  steps: readonly number[]
  width: number
  height: number
  label: string
}) {
  const most = Math.max(...steps)
  const wide = width / steps.length
  return (
    <svg className="distribution" width={width} height={height} role="img" aria-label={label}>
      <title>{label}</title>
      {steps.map((rows, at) => {
        // What is there at all is to be seen.
        const tall = rows === 0 ? 0 : Math.max(1, (rows / most) * height)
        const key = `step ${at}`
        return <rect key={key} x={at * wide} y={height - tall} width={Math.max(1, wide - (wide > 3 ? 1 : 0))} height={tall} />
      })}
    </svg>
  )
}
