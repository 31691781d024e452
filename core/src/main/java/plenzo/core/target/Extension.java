package plenzo.core.target;

/**
 * An extension that a database has.
 *
 * @param schema where its members are
 */
public record Extension(String name, String schema) {}
