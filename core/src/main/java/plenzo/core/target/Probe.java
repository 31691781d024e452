package plenzo.core.target;

/** One thing that a connection test measured, and what to do about it when it is not good. */
public record Probe(String name, boolean good, String found, String advice) {}
