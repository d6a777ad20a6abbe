import { useQuery } from '@tanstack/react-query'
import { api } from './client'
import { keys } from './keys'

/** What can be stated: unit, bounds and words of every field, by its path with capitals for ids. */
export function useField(path: string) {
  const fields = useQuery({ queryKey: keys.fields, queryFn: () => api.fields(), staleTime: Infinity })
  return fields.data?.find((f) => f.path === path)
}
