/** What a teacher prefers: time zone and paper. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type Preferences = Schemas["PreferencesRequest"];

export function usePreferences() {
  return useQuery({
    queryKey: keys.preferences,
    queryFn: () => data(api.GET("/api/preferences/")),
    staleTime: Infinity,
  });
}

export function useSetPreferences() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Preferences) => data(api.PUT("/api/preferences/", { body })),
    onSuccess: (page) => {
      client.setQueryData(keys.preferences, page);
      return client.invalidateQueries({ queryKey: keys.band });
    },
  });
}
