package plenzo.engine.backup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.keeping.Files;
import plenzo.core.object.Foundations;
import plenzo.core.table.Renaming;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.engine.setup.SiteLook;

/**
 * The part of a backup that holds files and definitions: a list with digests and each piece's
 * canonical content. What did not exist is listed too, so that going back takes it away.
 */
public final class PiecesFile {
  private final Files files;
  private final String folder;

  /**
   * @param folder such as {@code backup/R-12}
   */
  public PiecesFile(Files files, String folder) {
    this.files = files;
    this.folder = folder + "/pieces";
  }

  /**
   * One piece.
   *
   * @param content digest of kind and canonical content, null when it did not exist
   * @param beside whether the run does not touch it: a structure or schema object that what is
   *     backed up is built on, so that it can be restored elsewhere
   */
  public record Piece(ComponentKey key, @Nullable Digest content, long size, boolean beside) {
    Json toJson() {
      return Json.object(
          "component",
          key.toString(),
          "content",
          content == null ? null : content.hex(),
          "size",
          size,
          "beside",
          beside ? true : null);
    }

    static Piece of(Json json) {
      Json.Obj j = (Json.Obj) json;
      String content = j.findText("content");
      return new Piece(
          ComponentKey.of(j.text("component")),
          content == null ? null : new Digest(content),
          ((Json.Num) Objects.requireNonNull(j.find("size"))).value(),
          j.flag("beside"));
    }
  }

  /** What was written. */
  public record Written(List<Piece> pieces, long bytes, String digest) {}

  /**
   * Copies every piece that the run replaces or takes away.
   *
   * @throws IllegalStateException when a piece is no longer what the comparison read
   */
  public Written write(SiteLook look, SiteDelta delta, LongConsumer progress) {
    files.remove(folder);
    List<Piece> pieces = new ArrayList<>();
    long bytes = 0;
    for (Replaced change : replaced(delta)) {
      Digest present = change.present();
      if (present == null) {
        pieces.add(new Piece(change.key(), null, 0, /* beside= */ false));
        continue;
      }
      long size;
      try (InputStream in = look.read(change.key())) {
        size = copy(in, name(pieces.size()), change.key(), present);
      } catch (IOException e) {
        throw new UncheckedIOException(change.key() + " cannot be backed up", e);
      }
      bytes += size;
      pieces.add(new Piece(change.key(), present, size, /* beside= */ false));
      progress.accept(pieces.size());
    }
    bytes += beside(look, delta.tables(), pieces);
    String list = new Json.Arr(pieces.stream().map(Piece::toJson).toList()).canonical();
    files.write(folder + "/list.json", out -> out.write(list.getBytes(StandardCharsets.UTF_8)));
    return new Written(pieces, bytes, Digest.of(list).hex());
  }

  /** What everything of a database that is backed up is built on, and is not backed up itself. */
  private long beside(SiteLook look, TablesDelta delta, List<Piece> pieces) {
    if (delta.isEmpty()) {
      return 0;
    }
    Set<ComponentKey> kept = new TreeSet<>();
    Renaming back = delta.renaming().inverse();
    delta
        .touched()
        .forEach(t -> kept.add(new ComponentKey(Kind.TABLE, back.named(t).componentName())));
    delta.changedObjects().stream()
        .filter(o -> o.present() != null)
        .forEach(o -> kept.add(back.named(o.key())));
    Set<String> schemas = new TreeSet<>();
    for (TableName t : delta.touched()) {
      schemas.add(t.schema());
      schemas.add(back.named(t).schema());
    }
    delta.objects().forEach(o -> schemas.add(ObjectName.of(o.key()).schema()));
    boolean grants = kept.stream().anyMatch(k -> k.kind() == Kind.GRANT);
    Whole whole = new Whole(look.tables(), schemas, grants);
    Foundations foundations = new Foundations(whole.tables(), whole.objects());
    // what they are built on may stand in a schema that nothing of the plan touches
    while (schemas.addAll(foundations.elsewhere(foundations.of(kept)))) {
      whole = new Whole(look.tables(), schemas, grants);
      foundations = new Foundations(whole.tables(), whole.objects());
    }
    long bytes = 0;
    for (ComponentKey key : foundations.of(kept)) {
      if (!kept.contains(key)) {
        byte[] content = whole.content(key);
        files.write(name(pieces.size()), out -> out.write(content));
        pieces.add(new Piece(key, ContentDigest.of(key.kind(), content), content.length, true));
        bytes += content.length;
      }
    }
    return bytes;
  }

  /** One component that a run replaces, takes away or brings; nothing was there of the last. */
  private record Replaced(ComponentKey key, @Nullable Digest present) {}

  private static List<Replaced> replaced(SiteDelta delta) {
    List<Replaced> out = new ArrayList<>();
    for (Holder holder : List.of(Holder.DIRECTORY, Holder.HOST)) {
      ItemsDelta items = delta.items().get(holder);
      if (items != null) {
        items.changes().forEach(c -> out.add(new Replaced(c.key(), c.present())));
      }
    }
    Renaming back = delta.tables().renaming().inverse();
    delta.tables().changedObjects().stream()
        .map(
            o ->
                new Replaced(
                    back.named(o.key()),
                    o.present() == null ? null : o.present().renamed(back).digest()))
        .forEach(out::add);
    return out;
  }

  private long copy(InputStream in, String name, ComponentKey key, Digest expected) {
    MessageDigest digest = ContentDigest.begin(key.kind());
    long[] size = {0};
    files.write(
        name,
        out -> {
          byte[] buffer = new byte[1 << 16];
          for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
            out.write(buffer, 0, n);
            digest.update(buffer, 0, n);
            size[0] += n;
          }
        });
    if (!Digest.of(digest).equals(expected)) {
      throw new IllegalStateException(key + " was changed while it was backed up");
    }
    return size[0];
  }

  private String name(int n) {
    return folder + "/" + n;
  }

  /**
   * @param digest of the list, empty for a backup without pieces
   * @throws IllegalStateException when the list is not the one with this digest
   */
  public List<Piece> pieces(String digest) {
    if (digest.isEmpty()) {
      return List.of();
    }
    try (InputStream in = files.open(folder + "/list.json", 0)) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      if (!Digest.of(text).hex().equals(digest)) {
        throw new IllegalStateException("The backup's list of files and definitions is damaged");
      }
      return ((Json.Arr) Json.parse(text)).items().stream().map(Piece::of).toList();
    } catch (IOException e) {
      throw new UncheckedIOException("The backup cannot be read", e);
    }
  }

  /** Canonical content of the n-th piece; the caller closes it. */
  public InputStream open(int n) {
    return files.open(name(n), 0);
  }

  /**
   * Reads every piece again.
   *
   * @throws IllegalStateException when a byte or the list is not what was written
   */
  public void readBack(String digest) {
    List<Piece> pieces = pieces(digest);
    for (int n = 0; n < pieces.size(); n++) {
      Piece p = pieces.get(n);
      if (p.content() != null && !digest(p.key().kind(), n).equals(p.content())) {
        throw new IllegalStateException("The backup of " + p.key() + " is damaged");
      }
    }
  }

  private Digest digest(Kind kind, int n) {
    MessageDigest digest = ContentDigest.begin(kind);
    try (InputStream in = open(n)) {
      byte[] buffer = new byte[1 << 16];
      for (int got = in.read(buffer); got >= 0; got = in.read(buffer)) {
        digest.update(buffer, 0, got);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The backup cannot be read", e);
    }
    return Digest.of(digest);
  }
}
