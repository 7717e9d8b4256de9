let audio: AudioContext | undefined

/** One short tone; loud when something is over, soft when it is about to be. */
export function tone(loud: boolean) {
  audio ??= new AudioContext()
  const note = audio.createOscillator()
  const volume = audio.createGain()
  volume.gain.value = loud ? 0.08 : 0.02
  note.frequency.value = 880
  note.connect(volume).connect(audio.destination)
  note.start()
  note.stop(audio.currentTime + 0.18)
}
