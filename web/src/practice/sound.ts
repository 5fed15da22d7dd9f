/** The sound of a leaf: a soft rasp, louder and lower the harder it is held. */

let context: AudioContext | null = null;

export function rasp(pull: number, seconds = 0.35) {
  navigator.vibrate?.(pull >= 1 ? [40] : Array(4).fill(Math.round(6 + pull * 22)));
  if (typeof AudioContext === "undefined") return;
  context ??= new AudioContext();
  const length = Math.floor(context.sampleRate * seconds);
  const buffer = context.createBuffer(1, length, context.sampleRate);
  const data = buffer.getChannelData(0);
  for (let i = 0; i < length; i++) data[i] = (Math.random() * 2 - 1) * (1 - i / length);
  const source = context.createBufferSource();
  source.buffer = buffer;
  const filter = context.createBiquadFilter();
  filter.type = "bandpass";
  filter.frequency.value = 2600 - 1900 * pull;
  const gain = context.createGain();
  gain.gain.value = 0.02 + 0.14 * pull;
  source.connect(filter).connect(gain).connect(context.destination);
  source.start();
}
