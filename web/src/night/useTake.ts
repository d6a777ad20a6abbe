import { useMutation } from '@tanstack/react-query'
import { api } from '../api/client'
import type { Night } from '../api/client'

/** Keeps a measured figure in the rig it was measured on, as given, with its date. */
export function useTake(e: Night) {
  return useMutation({
    mutationFn: (f: { path: string; value: number; what: string; at: number }) =>
      api.takeMeasured(e.rigId, {
        path: f.path,
        value: f.value,
        on: new Date(f.at).toISOString().slice(0, 10),
        what: `${f.what}: ${f.value}`,
      }),
  })
}
