package plenzo.engine.comparing;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.DefinitionMerge;
import plenzo.core.item.FileHead;
import plenzo.core.item.ItemDifference;
import plenzo.core.item.TextMerge;
import plenzo.core.json.Json;
import plenzo.core.object.SchemaObject;

/** What differs inside one file or definition: members, lines, or size and digest. */
public final class PieceDifference {
  /** Bytes of a text that is compared line by line. */
  private static final long SMALL = 256 * 1024;

  private PieceDifference() {}

  /**
   * Content of one side; what it opens is closed here.
   *
   * @param size bytes as people count them: of a file itself, of a definition as a document
   */
  public record Piece(Digest content, long size, Supplier<InputStream> open) {
    /**
     * @param canonical bytes of the canonical content
     */
    public static Piece stored(
        Kind kind, Digest content, long canonical, Supplier<InputStream> open) {
      return new Piece(content, kind == Kind.FILE ? canonical - head(open.get()) : canonical, open);
    }

    /** How many bytes stand before those of the file. */
    private static long head(InputStream canonical) {
      try (InputStream in = new BufferedInputStream(canonical, 256)) {
        long count = 1;
        for (int b = in.read(); b >= 0 && b != '\n'; b = in.read()) {
          count++;
        }
        return count;
      } catch (IOException e) {
        throw new UncheckedIOException("Content cannot be read", e);
      }
    }
  }

  public static List<AttributeDifference> between(
      Kind kind, @Nullable Piece present, @Nullable Piece incoming) {
    return between(kind, null, present, incoming);
  }

  /**
   * @param base what both had when they last agreed; null when it is not known
   */
  static List<AttributeDifference> between(
      Kind kind, @Nullable Piece base, @Nullable Piece present, @Nullable Piece incoming) {
    boolean small = small(present) && small(incoming);
    byte[] was = present == null || !small ? null : bytes(present.open().get());
    byte[] is = incoming == null || !small ? null : bytes(incoming.open().get());
    if (kind.schemaObject()) {
      String there = object(kind, was);
      String comes = object(kind, is);
      return there == null || comes == null
          ? ItemDifference.whole(there, comes)
          : ItemDifference.lines(there, comes);
    }
    if (kind != Kind.FILE) {
      return ItemDifference.members(
          base == null || !small(base) ? null : json(bytes(base.open().get())),
          json(was),
          json(is));
    }
    List<AttributeDifference> out = new ArrayList<>();
    FileHead headWas = was == null ? null : head(was);
    FileHead headIs = is == null ? null : head(is);
    if (headWas != null && headIs != null) {
      differ(out, "executable", flag(headWas.executable()), flag(headIs.executable()));
    }
    differ(
        out,
        "link",
        headWas == null ? null : headWas.link(),
        headIs == null ? null : headIs.link());
    String textWas = text(was);
    String textIs = text(is);
    TextMerge three =
        base == null || !small(base) || textWas == null || textIs == null
            ? null
            : merge(text(bytes(base.open().get())), textWas, textIs);
    if (three != null) {
      out.addAll(three.differences());
    } else if (textWas != null && textIs != null) {
      out.addAll(ItemDifference.lines(textWas, textIs));
    } else {
      out.addAll(sizes(present, incoming));
    }
    return out;
  }

  private static @Nullable TextMerge merge(@Nullable String base, String present, String incoming) {
    return base == null ? null : TextMerge.of(base, present, incoming).orElse(null);
  }

  private static boolean small(@Nullable Piece piece) {
    return piece == null || piece.size() <= SMALL;
  }

  /**
   * Canonical content of a definition or a text with what either side moved since both agreed; null
   * when there is none, or it is too large to be read for it.
   *
   * @param members what was decided of members or lines that both moved, by their names
   */
  static byte @Nullable [] both(
      Kind kind, Piece base, Piece present, Piece incoming, Map<String, Decision> members) {
    // of code both together is what nobody has tried
    if (kind.schemaObject() || !small(base) || !small(present) || !small(incoming)) {
      return null;
    }
    if (kind == Kind.FILE) {
      return texts(
          bytes(base.open().get()),
          bytes(present.open().get()),
          bytes(incoming.open().get()),
          members);
    }
    return DefinitionMerge.both(read(base), read(present), read(incoming), members)
        .map(merged -> merged.canonical().getBytes(StandardCharsets.UTF_8))
        .orElse(null);
  }

  private static byte @Nullable [] texts(
      byte[] base, byte[] present, byte[] incoming, Map<String, Decision> lines) {
    FileHead had = head(base);
    FileHead has = head(present);
    FileHead comes = head(incoming);
    String was = text(present);
    String is = text(incoming);
    boolean links = had.link() != null || has.link() != null || comes.link() != null;
    TextMerge merge = links || was == null || is == null ? null : merge(text(base), was, is);
    if (merge == null) {
      return null;
    }
    boolean executable =
        had.executable() == has.executable() ? comes.executable() : has.executable();
    return merge
        .both(lines)
        .map(
            text -> (new FileHead(executable, null).line() + text).getBytes(StandardCharsets.UTF_8))
        .orElse(null);
  }

  private static @Nullable String object(Kind kind, byte @Nullable [] bytes) {
    Json.Obj json =
        bytes == null ? null : Json.parseObject(new String(bytes, StandardCharsets.UTF_8));
    return json == null
        ? null
        : SchemaObject.of(new ComponentKey(kind, json.text("name")), json).text();
  }

  private static Json read(Piece piece) {
    return Json.parse(new String(bytes(piece.open().get()), StandardCharsets.UTF_8));
  }

  /** Size and digest alone. */
  public static List<AttributeDifference> sizes(@Nullable Piece present, @Nullable Piece incoming) {
    List<AttributeDifference> out = new ArrayList<>();
    differ(
        out,
        "size",
        present == null ? null : present.size() + " bytes",
        incoming == null ? null : incoming.size() + " bytes");
    differ(
        out,
        "digest",
        present == null ? null : present.content().brief(),
        incoming == null ? null : incoming.content().brief());
    return out;
  }

  private static void differ(
      List<AttributeDifference> out, String name, @Nullable String was, @Nullable String is) {
    if (!java.util.Objects.equals(was, is)) {
      out.add(AttributeDifference.of(name, was, is, was == null, is == null));
    }
  }

  private static String flag(boolean value) {
    return value ? "yes" : "no";
  }

  private static byte[] bytes(InputStream content) {
    try (content) {
      return content.readAllBytes();
    } catch (IOException e) {
      throw new UncheckedIOException("Content cannot be read", e);
    }
  }

  private static @Nullable Json json(byte @Nullable [] bytes) {
    return bytes == null ? null : Json.parse(new String(bytes, StandardCharsets.UTF_8));
  }

  private static int firstLine(byte[] bytes) {
    for (int i = 0; i < bytes.length && i < FileHead.LONGEST; i++) {
      if (bytes[i] == '\n') {
        return i;
      }
    }
    return 0;
  }

  private static FileHead head(byte[] bytes) {
    return FileHead.of(new String(bytes, 0, firstLine(bytes), StandardCharsets.UTF_8));
  }

  /** The text of a file, null when it is none. */
  private static @Nullable String text(byte @Nullable [] bytes) {
    if (bytes == null) {
      return null;
    }
    int from = firstLine(bytes) + 1;
    try {
      String text =
          StandardCharsets.UTF_8
              .newDecoder()
              .decode(ByteBuffer.wrap(bytes, from, bytes.length - from))
              .toString();
      return text.indexOf('\0') < 0 ? text : null;
    } catch (CharacterCodingException e) {
      return null;
    }
  }
}
