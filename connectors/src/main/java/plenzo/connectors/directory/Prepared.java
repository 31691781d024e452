package plenzo.connectors.directory;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.target.ItemsDelta;

/**
 * The list of what a run changes, on disk, so that it can be switched back without memory.
 *
 * @param present digest of what was there, null when there was nothing
 * @param incoming digest of what the run writes, null when it takes away
 */
record Prepared(String name, @Nullable Digest present, @Nullable Digest incoming) {
  static void write(Path file, List<ItemsDelta.Change> changes) throws IOException {
    StringBuilder out = new StringBuilder();
    for (ItemsDelta.Change c : changes) {
      out.append(
              Json.object(
                      "name",
                      c.key().name(),
                      "present",
                      c.present() == null ? null : c.present().hex(),
                      "incoming",
                      c.incoming() == null ? null : c.incoming().hex())
                  .canonical())
          .append('\n');
    }
    Disk.write(file, out.toString());
  }

  static List<Prepared> read(Path file) throws IOException {
    List<Prepared> out = new ArrayList<>();
    try (BufferedReader in = Files.newBufferedReader(file, StandardCharsets.UTF_8)) {
      for (String line = in.readLine(); line != null; line = in.readLine()) {
        Json.Obj j = Json.parseObject(line);
        out.add(new Prepared(j.text("name"), digest(j, "present"), digest(j, "incoming")));
      }
    }
    return out;
  }

  private static @Nullable Digest digest(Json.Obj json, String name) {
    String hex = json.findText(name);
    return hex == null ? null : new Digest(hex);
  }

  /** Whether the file is still as the run left it. */
  boolean asWritten(Path root) throws IOException {
    Tree.Stat stat = Tree.find(Tree.resolve(root, name));
    if (incoming == null || stat == null) {
      return incoming == null && stat == null;
    }
    return (stat.plain() || stat.link())
        && Tree.digest(Tree.resolve(root, name), stat).equals(incoming);
  }
}
