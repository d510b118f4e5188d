/** Two short sounds for a scan, made here; off when somebody turned them off on this device. */
const PLACE = "send-off-sound";

export const soundIsOn = (): boolean => window.localStorage.getItem(PLACE) !== "off";

export const keepSound = (on: boolean): void =>
  window.localStorage.setItem(PLACE, on ? "on" : "off");

let context: AudioContext | null = null;

/** One high tone when all is well, two low ones when something is not. */
export function play(good: boolean): void {
  if (!soundIsOn() || typeof AudioContext === "undefined") return;
  context ??= new AudioContext();
  const tones = good ? [880] : [220, 175];
  for (const [at, hertz] of tones.entries()) {
    const tone = context.createOscillator();
    const volume = context.createGain();
    const begins = context.currentTime + at * 0.16;
    tone.frequency.value = hertz;
    tone.type = good ? "sine" : "square";
    volume.gain.setValueAtTime(0.08, begins);
    volume.gain.exponentialRampToValueAtTime(0.001, begins + 0.14);
    tone.connect(volume).connect(context.destination);
    tone.start(begins);
    tone.stop(begins + 0.15);
  }
}
