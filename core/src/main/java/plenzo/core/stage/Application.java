package plenzo.core.stage;

/**
 * What is versioned and promoted as a unit.
 *
 * @param id permanent, never changes
 * @param key technical name
 * @param schema database schema whose tables belong to it
 * @param path key of the path its versions travel
 */
public record Application(
    String id, String key, String name, String owner, String schema, String path, int revision) {
  public Application {
    if (!key.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "An application's key is lower-case letters, digits and hyphens; got \"" + key + "\"");
    }
  }
}
