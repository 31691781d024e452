package plenzo.core.target;

/**
 * An extension that a database has.
 *
 * @param schema where its members are
 * @param version as the server tells it, such as {@code 1.3}
 */
public record Extension(String name, String schema, String version) {}
