import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { type BackupPlan, BackupWire, DoctorWire, JobStarted } from '../../contract'
import { ask, send } from './client'

/** What the last examination of the stored files came to. */
export function useDoctor() {
  return useQuery({ queryKey: ['doctor'], queryFn: ({ signal }) => ask('/api/doctor', DoctorWire, { signal }) })
}

export function useExamine() {
  return useMutation({ mutationFn: () => send('POST', '/api/doctor', JobStarted) })
}

export function useRepair() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => send('POST', '/api/doctor/repair', z.object({ sentence: z.string() })),
    onSettled: () => client.invalidateQueries(),
  })
}

export function useBackups() {
  return useQuery({ queryKey: ['backup'], queryFn: ({ signal }) => ask('/api/backup', BackupWire, { signal }) })
}

export function useSaveBackupPlan() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (plan: BackupPlan | null) => send('PUT', '/api/backup', BackupWire, { plan }),
    onSuccess: (backups) => client.setQueryData(['backup'], backups),
  })
}

export function useBackUp() {
  return useMutation({ mutationFn: () => send('POST', '/api/backup', JobStarted) })
}
