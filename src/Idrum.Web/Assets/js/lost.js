// Sound that a busy device lost: what is only late comes at last, what is lost leaves the sound behind the clock for good.

// So long no message is late, s.
const LATE = 1;

/** What came, with silence where something was lost, so that all of it stands at its own time.
chunks: pieces of sound as they came, each with the time it came at, s; rate: samples a second. Gives the samples, and how much was lost, s. */
export function inTime(chunks, rate) {
  let count = 0;
  const lags = chunks.map(({ samples, at }) => {
    count += samples.length;
    return { at, lag: at - count / rate };
  });
  // The least lag of what comes after: being late only adds to it.
  const least = lags.map(({ at, lag }, k) => {
    let low = lag;
    for (let n = k + 1; n < lags.length && lags[n].at - at < LATE; n++)
      low = Math.min(low, lags[n].lag);
    return low;
  });
  let behind = 0;
  const before = least.map((lag) => {
    const more = Math.max(0, Math.round((lag - least[0]) * rate) - behind);
    behind += more;
    return more;
  });
  const Kind = chunks[0]?.samples.constructor ?? Int16Array;
  const samples = new Kind(count + behind);
  let end = 0;
  chunks.forEach((chunk, k) => {
    end += before[k];
    samples.set(chunk.samples, end);
    end += chunk.samples.length;
  });
  return { samples, lost: Math.round((behind / rate) * 100) / 100 };
}
