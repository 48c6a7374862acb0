/** The picture and sound of the one before the screen: a camera, or a made-up student's clip. */
import { useEffect, useRef, useState, type RefObject } from "react";
import { t } from "../shared/words";

export interface Source {
  stream: MediaStream;
  /** From here on the made-up student plays, so many seconds before the tone is to sound, once or
   * over and over; a camera needs no telling. */
  perform: (loop?: boolean) => void;
  lead: number;
  /** Back to the relaxed face. */
  relax: () => void;
  stop: () => void;
}

/** Sound as it is: what a call improves would change how loud and how high a tone is. */
const ASKED: MediaStreamConstraints = {
  video: { width: { ideal: 1280 }, height: { ideal: 720 }, facingMode: "user" },
  audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
};
const FPS = 25;
/** A made-up take shows its relaxed face here, and begins to move a little later, s. */
const RELAXED = 0.7;
/** So long after it its tone begins, s. */
const LEAD = 2;

const WHY: Record<string, string> = {
  NotAllowedError: t(
    "The browser may not use the camera. Allow camera and microphone for this page, then try again.",
  ),
  NotFoundError: t(
    "There is no camera or no microphone on this computer. Plug one in, then try again.",
  ),
  NotReadableError: t(
    "Another program uses the camera. Close it (a call, perhaps), then try again.",
  ),
};

async function camera(): Promise<Source> {
  // Without a secure address a browser offers no camera at all.
  if (!("mediaDevices" in navigator)) throw new Error(WHY.NotAllowedError);
  const stream = await navigator.mediaDevices.getUserMedia(ASKED);
  return {
    stream,
    perform: () => undefined,
    lead: 0,
    relax: () => undefined,
    stop: () => stream.getTracks().forEach((track) => track.stop()),
  };
}

async function standIn(address: string): Promise<Source> {
  const video = document.createElement("video");
  video.src = address;
  video.preload = "auto";
  await new Promise<void>((ready, failed) => {
    video.oncanplaythrough = () => ready();
    video.onerror = () => failed(new Error(t("The made-up student's clip can't be loaded.")));
  });
  video.currentTime = RELAXED;
  const canvas = document.createElement("canvas");
  canvas.width = video.videoWidth;
  canvas.height = video.videoHeight;
  const paper = canvas.getContext("2d");
  const draw = window.setInterval(() => paper?.drawImage(video, 0, 0), 1000 / FPS);
  const sound = new AudioContext();
  await sound.resume();
  const out = sound.createMediaStreamDestination();
  sound.createMediaElementSource(video).connect(out);
  const stream = canvas.captureStream(FPS);
  out.stream.getAudioTracks().forEach((track) => stream.addTrack(track));
  return {
    stream,
    perform: (loop = false) => {
      video.loop = loop;
      void video.play();
    },
    lead: LEAD,
    relax: () => {
      video.pause();
      video.currentTime = RELAXED;
    },
    stop: () => {
      window.clearInterval(draw);
      video.pause();
      stream.getTracks().forEach((track) => track.stop());
      void sound.close();
    },
  };
}

export interface Camera {
  source: Source | null;
  /** Why there is none, as a sentence. */
  trouble: string;
  again: () => void;
}

/** standIn  the address of a made-up student's clip, in place of a camera */
export function useCamera(address: string | null): Camera {
  const [tries, setTries] = useState(0);
  const asked = `${address} ${tries}`;
  /** What was found, and for what it was asked. */
  const [found, setFound] = useState<{ asked: string; source: Source | null; why: string }>();
  useEffect(() => {
    let mine: Source | null = null;
    let over = false;
    (address === null ? camera() : standIn(address)).then(
      (source) => {
        mine = source;
        if (over) source.stop();
        else setFound({ asked, source, why: "" });
      },
      (error: unknown) => {
        if (over) return;
        const known = error instanceof DOMException ? WHY[error.name] : undefined;
        const said = error instanceof Error ? error.message : String(error);
        setFound({ asked, source: null, why: known ?? said });
      },
    );
    return () => {
      over = true;
      mine?.stop();
    };
  }, [address, asked]);
  const current = found?.asked === asked ? found : undefined;
  return {
    source: current?.source ?? null,
    trouble: current?.why ?? "",
    again: () => setTries((n) => n + 1),
  };
}

/** Samples of the last moments, enough for three periods of the lowest tone. */
const MOMENT = 16384;

/** Asks for the last third of a second of a stream: mono, 48 kHz. */
export function useEar(stream: MediaStream | null): RefObject<(() => Float32Array) | null> {
  const listen = useRef<(() => Float32Array) | null>(null);
  useEffect(() => {
    if (!stream || stream.getAudioTracks().length === 0) return;
    const sound = new AudioContext({ sampleRate: 48000 });
    const ear = sound.createAnalyser();
    ear.fftSize = MOMENT;
    sound.createMediaStreamSource(stream).connect(ear);
    const wave = new Float32Array(ear.fftSize);
    listen.current = () => {
      ear.getFloatTimeDomainData(wave);
      return wave;
    };
    return () => {
      listen.current = null;
      void sound.close();
    };
  }, [stream]);
  return listen;
}

/** How loud it is now, 0 to 1. */
export function useLevel(stream: MediaStream | null): number {
  const [level, setLevel] = useState(0);
  useEffect(() => {
    if (!stream || stream.getAudioTracks().length === 0) return;
    const sound = new AudioContext();
    const ear = sound.createAnalyser();
    ear.fftSize = 1024;
    sound.createMediaStreamSource(stream).connect(ear);
    const wave = new Float32Array(ear.fftSize);
    const timer = window.setInterval(() => {
      ear.getFloatTimeDomainData(wave);
      const power = wave.reduce((sum, v) => sum + v * v, 0) / wave.length;
      // From 60 dB under full scale up.
      setLevel(Math.min(Math.max(1 + Math.log10(power + 1e-9) / 6, 0), 1));
    }, 100);
    return () => {
      window.clearInterval(timer);
      void sound.close();
    };
  }, [stream]);
  return level;
}
