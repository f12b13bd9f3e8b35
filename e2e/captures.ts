/** A capture as a scope writes it: a sine, if need be held at a rail, in a file of its own. */
export function scopeCapture(options: { hertz: number; peakVolt: number; railVolt?: number; name?: string }): {
  name: string;
  mimeType: string;
  buffer: Buffer;
} {
  const { hertz, peakVolt, railVolt = Infinity, name = 'scope.csv' } = options;
  const samples = 4000;
  const interval = 8 / hertz / samples;
  const lines = ['TIME,CH1'];
  for (let n = 0; n < samples; n += 1) {
    const volt = Math.max(-railVolt, Math.min(railVolt, peakVolt * Math.sin(2 * Math.PI * hertz * n * interval)));
    lines.push(`${(n * interval).toExponential(6)},${volt.toFixed(4)}`);
  }
  return { name, mimeType: 'text/csv', buffer: Buffer.from(`${lines.join('\n')}\n`) };
}
