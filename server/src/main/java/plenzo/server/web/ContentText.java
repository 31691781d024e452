package plenzo.server.web;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.Versions.ContentView;
import plenzo.core.comparison.Counts;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.LongValue;
import plenzo.engine.Engine;
import plenzo.engine.sealing.Contained;
import plenzo.server.security.Shown;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** Content of a component as people read it. */
final class ContentText {
  /** Bytes that are shown. */
  private static final int MOST = 64 * 1024;

  private static final JsonMapper JSON = JsonMapper.builder().build();

  private ContentText() {}

  static ContentView view(Engine engine, Contained.Read read, VisibleValues sight) {
    boolean hidden = read.key().kind() == Kind.RECORDS && sight.guards(read.key().toString());
    byte[] bytes = hidden ? new byte[0] : first(engine.contents().open(read.content()));
    boolean cut =
        !hidden
            && engine.contents().size(read.content()) > bytes.length
            && (read.key().kind() != Kind.RECORDS || behindRows(bytes) < 0);
    RowAnswer rows = new RowAnswer(read.key(), sight, 0, Integer.MAX_VALUE, null, false);
    read.differing().forEach(rows::take);
    return new ContentView(
        read.key().toString(),
        hidden ? null : text(read.key(), bytes, cut),
        cut,
        read.rows(),
        Views.counts(read.against() == null ? Counts.NONE : read.against().counts()),
        read.against() == null
            ? List.of()
            : Views.components(List.of(read.against())).get(0).parts(),
        rows.page(read.differing().size()).items());
  }

  private static byte[] first(InputStream content) {
    try (content) {
      return content.readNBytes(MOST);
    } catch (IOException e) {
      throw new UncheckedIOException("Content cannot be read", e);
    }
  }

  /** Where rows end and long values begin; below 0 where that is not among these bytes. */
  private static int behindRows(byte[] bytes) {
    for (int i = 1; i < bytes.length; i++) {
      if (bytes[i] == 0 && bytes[i - 1] == '\n') {
        return i;
      }
    }
    return -1;
  }

  /**
   * A file without the line that Plenzo keeps before it; of a schema object its code; any other
   * document with its members in lines.
   */
  private static @Nullable String text(ComponentKey key, byte[] bytes, boolean cut) {
    Kind kind = key.kind();
    if (kind == Kind.RECORDS) {
      int behind = behindRows(bytes);
      int length = behind < 0 ? bytes.length : behind;
      return Shown.plain(LongValue.shownIn(new String(bytes, 0, length, StandardCharsets.UTF_8)));
    }
    String all = new String(bytes, StandardCharsets.UTF_8);
    if (kind == Kind.FILE) {
      String file = all.substring(all.indexOf('\n') + 1);
      return file.indexOf('\0') >= 0 ? null : Shown.plain(file);
    }
    if (kind.schemaObject() && !cut) {
      return Shown.plain(SchemaObject.of(key, bytes).text());
    }
    if (cut) {
      return Shown.plain(all);
    }
    try {
      return Shown.plain(
          JSON.writerWithDefaultPrettyPrinter().writeValueAsString(JSON.readTree(all)));
    } catch (JacksonException e) {
      return Shown.plain(all);
    }
  }
}
