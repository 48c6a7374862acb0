/** Practising the eye: rounds, the gallery, and how well one sees. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type EyePage = Schemas["EyePage"];
export type EyeRound = Schemas["RoundPage"];
export type RoundItem = Schemas["RoundItem"];
export type Truth = Schemas["Truth"];
export type GalleryRow = Schemas["GalleryRow"];
export type GalleryLoop = Schemas["GalleryLoop"];
export type Said = Schemas["SaidInRequest"];
export type Level = Schemas["RoundInRequest"]["level"];

export function useEye() {
  return useQuery({ queryKey: keys.eye, queryFn: () => data(api.GET("/api/eye/")) });
}

export function useEyeRound(id: number) {
  return useQuery({
    queryKey: keys.eyeRound(id),
    queryFn: () =>
      data(api.GET("/api/eye/rounds/{round_id}/", { params: { path: { round_id: id } } })),
  });
}

export function useEyeEdits() {
  const client = useQueryClient();
  return {
    begin: useMutation({
      mutationFn: (body: Schemas["RoundInRequest"]) =>
        data(api.POST("/api/eye/rounds/", { body })),
      onSuccess: () => client.invalidateQueries({ queryKey: keys.eye }),
    }),
    say: useMutation({
      mutationFn: ({ round, said }: { round: number; said: Said }) =>
        data(
          api.POST("/api/eye/rounds/{round_id}/", {
            params: { path: { round_id: round } },
            body: said,
          }),
        ),
      onSuccess: (page) => {
        client.setQueryData(keys.eyeRound(page.id), page);
        return client.invalidateQueries({ queryKey: keys.eye });
      },
    }),
    share: useMutation({
      mutationFn: (body: Schemas["RoundInRequest"]) =>
        data(api.POST("/api/eye/open/", { body })),
    }),
  };
}

export function useGallery(instrument: string) {
  return useQuery({
    queryKey: keys.eyeGallery(instrument),
    queryFn: () =>
      data(api.GET("/api/eye/gallery/{instrument}/", { params: { path: { instrument } } })),
    staleTime: Infinity,
  });
}

/** A round of nobody's: the page remembers what was said, and the server tells what is true of it. */
export function useOpenRound(token: string) {
  const client = useQueryClient();
  const round = useQuery({
    queryKey: keys.eyeOpen(token),
    queryFn: () => data(api.GET("/api/eye/open/{token}/", { params: { path: { token } } })),
    retry: false,
    staleTime: Infinity,
  });
  const say = useMutation({
    mutationFn: (said: Said[]) =>
      data(api.POST("/api/eye/open/{token}/", { params: { path: { token } }, body: { said } })),
    onSuccess: (page) => client.setQueryData(keys.eyeOpen(token), page),
  });
  return { round, say };
}
