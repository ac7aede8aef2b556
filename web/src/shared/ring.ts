/** Two short tones, where the browser lets a page make a sound. */
export function ring(): void {
  const sound = new AudioContext();
  for (const at of [0, 0.3]) {
    const tone = sound.createOscillator();
    tone.frequency.value = 880;
    tone.connect(sound.destination);
    tone.start(sound.currentTime + at);
    tone.stop(sound.currentTime + at + 0.18);
  }
  window.setTimeout(() => void sound.close(), 1000);
}
