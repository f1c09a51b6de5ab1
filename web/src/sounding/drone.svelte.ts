import { answer, api, problemWords, type Player, type Schemas } from '../api/client';
import { known } from '../api/fields.svelte';
import { soft } from '../audio/tone';

type DroneIn = Schemas['DroneIn'];
type DroneOut = Schemas['DroneOut'];

interface Kept extends DroneIn {
  loudness: number;
}

const kept = (player: Player | null) => `orexis-drone-${player?.id ?? 0}`;

/** A drone by itself. */
class Drone {
  running = $state(false);
  /** As the player names it and as it sounds. */
  told = $state.raw<DroneOut | null>(null);
  trouble = $state('');
  /** Where the exercise has a drone of its own. */
  barred = $state(false);
  set = $state.raw<Kept | null>(null);

  private player: Player | null = null;
  private listener: ((drone: DroneIn | null) => void) | null = null;
  private context: AudioContext | null = null;
  private sounding: { oscillator: OscillatorNode; gain: GainNode }[] = [];

  toggle(player: Player | null): void {
    if (this.running) this.stop();
    else void this.start(player);
  }

  async start(player: Player | null): Promise<void> {
    if (this.running || this.barred) return;
    this.player = player;
    this.set = settingOf(player);
    this.running = true;
    await this.play();
  }

  stop(): void {
    this.running = false;
    this.hush();
    void this.context?.close();
    this.context = null;
    this.listener?.(null);
  }

  /** Sets some of it; while it sounds, at once. */
  async change(some: Partial<Kept>): Promise<void> {
    if (!this.set) return;
    const { least, most } = known.fields.drone.midi ?? {};
    const set = { ...this.set, ...some };
    set.midi = Math.min(Math.max(set.midi, least ?? 0), most ?? 127);
    this.set = set;
    localStorage.setItem(kept(this.player), JSON.stringify(set));
    if (this.running) await this.play();
  }

  /** Goes so many half steps up. */
  async step(by: number): Promise<void> {
    if (this.set) await this.change({ midi: this.set.midi + by });
  }

  /** Tells whoever listens to the player what sounds from now on; null: nobody does. */
  listenedToBy(listener: ((drone: DroneIn | null) => void) | null): void {
    this.listener = listener;
    if (listener && this.running && this.set) listener(droneOf(this.set));
  }

  private async play(): Promise<void> {
    const { player, set } = this;
    if (!set) return;
    const drone = droneOf(set);
    try {
      const told = await answer(
        player
          ? api.POST('/api/players/{player_id}/drone', {
              params: { path: { player_id: player.id } },
              body: drone,
            })
          : api.POST('/api/drone', { body: drone }),
      );
      if (!this.running || set !== this.set) return;
      this.told = told;
      this.trouble = '';
    } catch (error) {
      this.trouble = problemWords(error);
      return;
    }
    this.hush();
    const context = (this.context ??= new AudioContext());
    await context.resume();
    const level = (2 * soft.level * set.loudness) / 100;
    this.sounding = (this.told?.hz ?? []).map((hz) => {
      const { oscillator, gain } = soft(context, hz);
      gain.gain.setTargetAtTime(level, context.currentTime, soft.fadeS / 3);
      gain.connect(context.destination);
      oscillator.start();
      return { oscillator, gain };
    });
    this.listener?.(drone);
  }

  private hush(): void {
    for (const { oscillator, gain } of this.sounding) {
      const now = this.context?.currentTime ?? 0;
      gain.gain.setTargetAtTime(0, now, soft.fadeS / 3);
      oscillator.stop(now + 2 * soft.fadeS);
    }
    this.sounding = [];
  }
}

function droneOf({ midi, fifth, temperament }: Kept): DroneIn {
  return { midi, fifth, temperament };
}

/** What it was set to last by a player in this browser; at first the note their Stand begins on. */
function settingOf(player: Player | null): Kept {
  const { midi, loudness, temperament } = known.fields.drone;
  const usual: Kept = {
    midi: player?.start_midi ?? Number(midi?.usual ?? 0),
    fifth: false,
    temperament: (temperament?.usual ?? 'just') as Kept['temperament'],
    loudness: Number(loudness?.usual ?? 0),
  };
  try {
    return {
      ...usual,
      ...(JSON.parse(localStorage.getItem(kept(player)) ?? '{}') as Partial<Kept>),
    };
  } catch {
    return usual;
  }
}

export const drone = new Drone();
