/** Sending a clip with real progress, which fetch can't tell. */
import { csrfToken, postForm, refusalOf, Refusal, type TakeSummary } from "./client";
import { t } from "../shared/words";

/** What a teacher says of a clip. */
export interface TakeFacts {
  view: "front" | "side";
  purpose: "check" | "recheck";
  filmedOn: string;
  mirrored: boolean;
}

export interface ClipFacts extends TakeFacts {
  clip: File;
}

/** `onProgress` gets the share of the file sent, 0 to 1. */
export function sendClip(
  student: number,
  facts: ClipFacts,
  onProgress: (share: number) => void,
): Promise<TakeSummary> {
  const form = new FormData();
  form.set("clip", facts.clip);
  form.set("view", facts.view);
  form.set("purpose", facts.purpose);
  form.set("filmed_on", facts.filmedOn);
  form.set("mirrored", String(facts.mirrored));
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/students/${student}/takes/`);
    request.setRequestHeader("X-CSRFToken", csrfToken());
    request.responseType = "json";
    request.upload.onprogress = (event) => {
      if (event.lengthComputable) onProgress(event.loaded / event.total);
    };
    request.onload = () => {
      if (request.status === 201) resolve(request.response as TakeSummary);
      else reject(refusalOf(request.status, request.response));
    };
    request.onerror = () => {
      reject(
        new Refusal(
          t("The connection was lost and the clip did not arrive. Upload it again."),
          0,
        ),
      );
    };
    request.send(form);
  });
}

export interface Photos {
  photos: File[];
  rest: File | null;
  view: TakeFacts["view"];
  /** Empty: as the photos themselves say. */
  day: string;
}

/** A take of each photo. */
export async function sendPhotos(student: number, sent: Photos): Promise<TakeSummary[]> {
  const form = new FormData();
  for (const photo of sent.photos) form.append("photos", photo);
  if (sent.rest) form.set("rest", sent.rest);
  form.set("view", sent.view);
  if (sent.day) form.set("filmed_on", sent.day);
  return postForm<TakeSummary[]>(`/api/students/${student}/photos/`, form);
}
