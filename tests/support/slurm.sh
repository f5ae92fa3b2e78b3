#!/usr/bin/env bash
# A private Slurm of two nodes on this machine, for one test: slurm.sh start FOLDER | kill FOLDER NODE | stop FOLDER.
# Needs root. Nothing outside FOLDER is touched; ports are taken from the folder's own number.
set -euo pipefail
what=$1 folder=$2
export SLURM_CONF=$folder/slurm.conf
case $what in
start)
  mkdir -p "$folder"/{state,spool0,spool1}
  port=$((20000 + $$ % 20000))
  host=$(hostname -s)
  cat >"$SLURM_CONF" <<CONF
ClusterName=quay
SlurmctldHost=$host(127.0.0.1)
SlurmUser=root
SlurmdUser=root
AuthType=auth/none
CredType=cred/none
AuthInfo=cred_expire=5
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
SwitchType=switch/none
MpiDefault=none
MailProg=/bin/true
SchedulerParameters=bf_interval=1,sched_interval=1,batch_sched_delay=0
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
SlurmdParameters=config_overrides
CommunicationParameters=NoCtldInAddrAny,NoInAddrAny
SlurmdTimeout=3
MessageTimeout=3
KillWait=2
ReturnToService=2
JobRequeue=1
MaxArraySize=10001
SlurmctldPort=$port
SlurmctldPidFile=$folder/ctld.pid
SlurmdPidFile=$folder/%n.pid
SlurmctldLogFile=$folder/ctld.log
SlurmdLogFile=$folder/%n.log
StateSaveLocation=$folder/state
SlurmdSpoolDir=$folder/spool-%n
JobCompType=jobcomp/none
NodeName=n[0-1] NodeHostname=$host NodeAddr=127.0.0.1 Port=[$((port + 1))-$((port + 2))] CPUs=2 State=UNKNOWN
PartitionName=all Nodes=ALL Default=YES MaxTime=INFINITE State=UP
CONF
  printf 'CgroupPlugin=cgroup/v1\n' >"$folder/cgroup.conf"
  slurmctld -f "$SLURM_CONF"
  slurmd -f "$SLURM_CONF" -N n0
  slurmd -f "$SLURM_CONF" -N n1
  for _ in $(seq 100); do
    [ "$(sinfo -h -t idle -o %D 2>/dev/null)" = 2 ] && exit 0
    sleep 0.1
  done
  sinfo >&2 || true
  cat "$folder"/*.log >&2
  exit 1
  ;;
kill)
  # The node and what runs on it, at once: the daemons that would tell of an end are stopped before anything is killed.
  node=$3
  daemon=$(cat "$folder/$node.pid")
  kill -STOP "$daemon"  # first, so that nothing new begins while the rest is looked for
  tasks= tellers=
  for process in /proc/[0-9]*; do
    grep -qzxF "SLURM_CONF=$SLURM_CONF" "$process/environ" 2>/dev/null || continue
    # The daemon of a step does not name its node, but writes into its log.
    find "$process/fd" -lname "$folder/$node.log" 2>/dev/null | grep -q . && tellers="$tellers ${process#/proc/}"
    grep -qzxF "SLURMD_NODENAME=$node" "$process/environ" 2>/dev/null && tasks="$tasks ${process#/proc/}"
  done
  kill -STOP $tellers 2>/dev/null || true
  kill -9 "$daemon" $tellers $tasks 2>/dev/null || true
  ;;
stop)
  scontrol shutdown 2>/dev/null || true
  sleep 0.5
  for file in "$folder"/*.pid; do
    [ -f "$file" ] && kill -9 "$(cat "$file")" 2>/dev/null || true
  done
  ;;
esac
