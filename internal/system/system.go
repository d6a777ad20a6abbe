// Package system answers: what does each operating system call the few things that differ? How much room a folder has,
// and how a child is made to end with us.
package system
