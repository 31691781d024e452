package plenzo.connectors.git;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.List;
import java.util.function.Consumer;
import org.eclipse.jgit.lib.FileMode;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.Definition;
import plenzo.core.item.FileHead;
import plenzo.core.item.FilePath;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.TargetFailed;

/** Files and definitions of one commit. */
final class GitItems extends GitLooking implements ItemsLooking {
  /** Longest text of a link. */
  private static final int LINK = 4096;

  private final Kind.Holder holder;

  GitItems(Layout layout, Kind.Holder holder) {
    super(layout);
    this.holder = holder;
  }

  @Override
  public void inventory(String scope, Consumer<ItemSeen> sink) {
    for (ComponentKey key : layout.keys()) {
      if (key.kind().holder() == holder && Layout.mine(key, scope)) {
        sink.accept(seen(key));
      }
    }
  }

  private ItemSeen seen(ComponentKey key) {
    Layout.Blob blob = java.util.Objects.requireNonNull(layout.find(key));
    MessageDigest digest = ContentDigest.begin(key.kind());
    long size = 0;
    String refusal = "";
    try (InputStream in = content(key, blob)) {
      byte[] buffer = new byte[1 << 16];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        digest.update(buffer, 0, n);
        size += n;
      }
    } catch (IllegalArgumentException e) {
      refusal = String.valueOf(e.getMessage());
    } catch (IOException e) {
      throw failed(key, e);
    }
    if (key.kind() == Kind.FILE && refusal.isEmpty()) {
      boolean link = blob.mode().equals(FileMode.SYMLINK);
      size = link ? 0 : size - head(blob).length;
    }
    return new ItemSeen(
        key, Digest.of(digest), size, blob.id().getName(), null, null, List.of(), refusal);
  }

  private static TargetFailed failed(ComponentKey key, Exception e) {
    return new TargetFailed(key + " cannot be read from the repository: " + e, false, e);
  }

  private InputStream content(ComponentKey key, Layout.Blob blob) throws IOException {
    if (key.kind().definition()) {
      Json json = Json.parse(layout.text(blob, Definition.LONGEST));
      Definition.of(key, json);
      return new ByteArrayInputStream(json.canonical().getBytes(StandardCharsets.UTF_8));
    }
    if (blob.mode().equals(FileMode.SYMLINK)) {
      String link = layout.text(blob, LINK);
      if (!FilePath.staysInside(key.name(), link)) {
        throw new IllegalArgumentException("it is a link that leads outside the tree");
      }
      return new ByteArrayInputStream(bytes(new FileHead(false, link)));
    }
    return new SequenceInputStream(new ByteArrayInputStream(head(blob)), layout.open(blob));
  }

  /** What stands before the bytes of a file that is no link. */
  private static byte[] head(Layout.Blob blob) {
    return bytes(new FileHead(blob.mode().equals(FileMode.EXECUTABLE_FILE), null));
  }

  private static byte[] bytes(FileHead head) {
    return head.line().getBytes(StandardCharsets.UTF_8);
  }

  @Override
  public InputStream read(ComponentKey key) {
    Layout.Blob blob = layout.find(key);
    if (blob == null) {
      throw failed(key, new IOException("it is not there"));
    }
    try {
      return content(key, blob);
    } catch (IOException e) {
      throw failed(key, e);
    }
  }

  @Override
  public @Nullable Work work() {
    return null;
  }

  @Override
  public Limits limits(String scope) {
    return Limits.NONE;
  }

  @Override
  public String probe(String question) {
    throw new UnsupportedOperationException("A repository answers no questions");
  }
}
