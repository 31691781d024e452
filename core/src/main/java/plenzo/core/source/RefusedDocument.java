package plenzo.core.source;

/**
 * A document that lies where components lie and cannot be one.
 *
 * @param path where it lies in the source
 * @param why in a sentence without its full stop
 */
public record RefusedDocument(String path, String why) {}
