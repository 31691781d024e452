package plenzo.engine.promoting;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.records.RowReader;
import plenzo.core.stage.SiteRecord.Base;
import plenzo.core.table.Renaming;
import plenzo.core.target.TableCapture;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.SiteLook;

/**
 * What a site held of components when a run carried them there for the first time. Going back to a
 * version without them leads there: what a run did not create it never removes.
 */
final class FirstCarried {
  private final Tools tools;
  private final Contents contents;

  FirstCarried(Tools tools, Contents contents) {
    this.tools = tools;
    this.contents = contents;
  }

  private static String name(long run) {
    return "bases/R-" + run;
  }

  /** What the present version lacks and the next one has. */
  static List<VersionEntry> of(Version present, Version next) {
    return next.entries().stream().filter(e -> present.entry(e.key()).isEmpty()).toList();
  }

  /**
   * Keeps what is there now of these.
   *
   * @param names from those of the present version to those of the next one
   */
  void keep(long run, SiteLook look, Compared compared, List<VersionEntry> first, Renaming names) {
    Map<String, Json> out = new TreeMap<>();
    now(look, compared, first, names)
        .forEach(
            (key, base) ->
                out.put(
                    key,
                    Json.object(
                        "content",
                        base.content() == null ? null : base.content().hex(),
                        "options",
                        base.options())));
    byte[] text = Json.object(out).canonical().getBytes(StandardCharsets.UTF_8);
    tools.files().write(name(run), to -> to.write(text));
  }

  /** What is there now of these, by component; what takes a name that was given up by its own. */
  Map<String, Base> now(
      SiteLook look, Compared compared, List<VersionEntry> first, Renaming names) {
    Map<String, Base> out = new TreeMap<>();
    Renaming back = names.inverse();
    first.forEach(e -> out.put(back.named(e.key()).toString(), read(look, compared, e)));
    return out;
  }

  /** What was kept for a run; nothing for a run of a Plenzo that did not keep it yet. */
  Map<String, Base> kept(long run) {
    Map<String, Base> out = new TreeMap<>();
    if (!tools.files().exists(name(run))) {
      return out;
    }
    try (InputStream in = tools.files().open(name(run), 0)) {
      Json.Obj all = Json.parseObject(new String(in.readAllBytes(), StandardCharsets.UTF_8));
      all.members()
          .forEach(
              (key, value) -> {
                Json.Obj base = (Json.Obj) value;
                String content = base.findText("content");
                out.put(
                    key,
                    new Base(
                        content == null ? null : new Digest(content), base.findText("options")));
              });
      return out;
    } catch (IOException e) {
      throw new UncheckedIOException("What was there before R-" + run + " cannot be read", e);
    }
  }

  private Base read(SiteLook look, Compared compared, VersionEntry e) {
    if (e.key().kind().whole()) {
      return new Base(item(look, compared, e.key()), null);
    }
    TableName table = TableName.of(e.key().name());
    Optional<TableCapture> there = look.tables().table(table);
    if (there.isEmpty()) {
      return Base.NOTHING;
    }
    if (e.key().kind() == Kind.TABLE) {
      return new Base(contents.put(there.get().structure()).digest(), null);
    }
    boolean told =
        e.records().key().stream().allMatch(n -> there.get().structure().column(n).isPresent());
    if (!told) {
      return Base.NOTHING; // no row of before can be told by this key
    }
    try (RowReader rows = look.tables().rows(e.records(), null)) {
      return new Base(contents.put(rows).digest(), e.options());
    }
  }

  private @Nullable Digest item(SiteLook look, Compared compared, ComponentKey key) {
    if (!compared.items().present().containsKey(key)) {
      return null;
    }
    try (InputStream in = look.read(key)) {
      return contents.put(key.kind(), in).digest();
    } catch (IOException e) {
      throw new UncheckedIOException(key + " cannot be read", e);
    }
  }
}
