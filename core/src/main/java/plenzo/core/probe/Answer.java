package plenzo.core.probe;

/**
 * What a question was answered.
 *
 * @param text the answer, or why there was none
 */
public record Answer(boolean given, String text) {}
