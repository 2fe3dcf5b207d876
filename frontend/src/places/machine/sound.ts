// A short tone where something stops: off until it is asked for.
const NAME = "clothyard.sound";

export const soundOn = () => localStorage.getItem(NAME) === "on";
export const keepSound = (on: boolean) => localStorage.setItem(NAME, on ? "on" : "off");

/** Two tones for an end, one for a stop. */
export function beep(end: boolean) {
  try {
    const context = new AudioContext();
    for (const n of end ? [0, 1] : [0]) {
      const tone = context.createOscillator();
      const loud = context.createGain();
      loud.gain.value = 0.12;
      tone.frequency.value = end ? 660 + 220 * n : 440;
      tone.connect(loud).connect(context.destination);
      tone.start(context.currentTime + n * 0.25);
      tone.stop(context.currentTime + n * 0.25 + 0.2);
    }
    window.setTimeout(() => void context.close(), 1000);
  } catch {
    // no sound here: the page says it all
  }
}
