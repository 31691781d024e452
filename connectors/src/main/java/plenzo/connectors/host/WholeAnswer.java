package plenzo.connectors.host;

import java.io.IOException;
import java.net.http.HttpResponse.BodySubscriber;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.Flow.Subscription;
import org.jspecify.annotations.Nullable;

/** An answer as one piece, no longer than it may be; what comes after that is not waited for. */
final class WholeAnswer implements BodySubscriber<byte[]> {
  private final int longest;
  private final List<byte[]> pieces = new ArrayList<>();
  private final CompletableFuture<byte[]> whole = new CompletableFuture<>();
  private @Nullable Subscription subscription;
  private int length;

  WholeAnswer(int longest) {
    this.longest = longest;
  }

  @Override
  public CompletionStage<byte[]> getBody() {
    return whole;
  }

  @Override
  public void onSubscribe(Subscription s) {
    subscription = s;
    s.request(1);
  }

  @Override
  public void onNext(List<ByteBuffer> some) {
    for (ByteBuffer b : some) {
      if (b.remaining() > longest - length) {
        pieces.clear();
        whole.completeExceptionally(
            new IOException("the answer is longer than " + (longest >> 20) + " MB"));
        if (subscription != null) {
          subscription.cancel();
        }
        return;
      }
      byte[] next = new byte[b.remaining()];
      b.get(next);
      pieces.add(next);
      length += next.length;
    }
    if (subscription != null) {
      subscription.request(1);
    }
  }

  @Override
  public void onError(Throwable e) {
    whole.completeExceptionally(e);
  }

  @Override
  public void onComplete() {
    ByteBuffer all = ByteBuffer.allocate(length);
    pieces.forEach(all::put);
    whole.complete(all.array());
  }
}
